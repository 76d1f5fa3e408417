"""Faults that a circuit can have."""
