"""Pictures of what is kept: the weeks ahead."""
