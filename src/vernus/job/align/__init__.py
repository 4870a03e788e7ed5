"""Body and reader set by indicator."""
