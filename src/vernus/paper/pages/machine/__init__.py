"""The machine and what moves on it."""
