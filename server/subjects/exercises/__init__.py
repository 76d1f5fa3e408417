"""Faults to be found."""
