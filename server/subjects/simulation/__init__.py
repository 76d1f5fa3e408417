"""Runs, readings, and the reasons for both."""
