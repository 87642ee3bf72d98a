"""The screens: FastAPI routes by screen, Jinja templates, static assets. No arithmetic on readings here."""
