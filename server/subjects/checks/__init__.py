"""What the rules of the trade find."""
