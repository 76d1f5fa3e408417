"""Operating sequences and state tables."""
