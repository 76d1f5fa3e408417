"""Nodal analysis. Knows of branches between nodes, nothing of devices."""
