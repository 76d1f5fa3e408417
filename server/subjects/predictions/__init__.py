"""Readings to be predicted."""
