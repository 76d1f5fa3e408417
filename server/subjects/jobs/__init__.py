"""Jobs and their circuits."""
