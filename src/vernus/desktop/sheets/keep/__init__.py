"""The job card and what is kept."""
