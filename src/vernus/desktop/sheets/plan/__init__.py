"""What is chosen and where it goes."""
