"""Practice: the bench beside the real sheets."""
