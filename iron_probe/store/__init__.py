"""What is kept: jobs and their append-only log, in PostgreSQL."""
