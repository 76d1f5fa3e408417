"""Versions of a job."""
