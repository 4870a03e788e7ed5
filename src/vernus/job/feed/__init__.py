"""The power feed."""
