"""The practice bay: cases to work on the real screens, and how they were worked."""
