"""Numbers under which an instructor hides the same fault from many."""
