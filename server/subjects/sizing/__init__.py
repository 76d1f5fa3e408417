"""Sizing sheets."""
