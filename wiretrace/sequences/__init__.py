"""Operating sequences: what is done with a circuit step by step, and what must come of it."""
