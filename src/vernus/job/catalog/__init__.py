"""What is shipped, and the user's own: families, templates, habits."""
