"""The kinds of fault, a class each."""
