"""Checking a display against a reference: counts, factor, table, and how the display takes them."""
