"""Predictions: what a person expects of meters and devices, and which misconception a wrong figure comes from."""
