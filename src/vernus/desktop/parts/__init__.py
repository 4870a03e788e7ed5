"""Reusable widgets."""
