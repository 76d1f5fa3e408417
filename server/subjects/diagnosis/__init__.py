"""Trace: dictionaries, advice, real panels, the fault book."""
