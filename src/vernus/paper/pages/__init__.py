"""The pages of the report, by room."""
