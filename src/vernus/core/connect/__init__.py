"""Cables and the first power-up."""
