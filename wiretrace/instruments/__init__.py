"""Meters, each with its own effect on the circuit."""
