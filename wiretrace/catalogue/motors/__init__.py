"""Motors, what they drive, and what starts them."""
