"""Meters in the circuit and what feeds them."""
