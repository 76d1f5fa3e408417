"""Faults that a panel can have."""
