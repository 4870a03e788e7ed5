"""What is received and made."""
