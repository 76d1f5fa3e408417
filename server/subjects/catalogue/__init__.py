"""What devices exist, and the library of circuits."""
