"""Whole circuits made by rules from a few choices, as starting points to be changed."""
