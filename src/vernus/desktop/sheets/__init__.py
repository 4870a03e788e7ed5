"""One module per sheet."""
