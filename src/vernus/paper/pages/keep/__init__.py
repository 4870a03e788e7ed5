"""Sheets to hang by the machine: oil points, and how to put it back."""
