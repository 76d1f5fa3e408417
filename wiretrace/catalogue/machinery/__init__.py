"""What kinds of device have in common."""
