"""What is wrong, or unwise, about a circuit as it is drawn."""
