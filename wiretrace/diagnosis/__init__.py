"""Where is the fault, and what to measure next."""
