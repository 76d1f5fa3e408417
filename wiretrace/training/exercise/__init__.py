"""Looking for a hidden fault: what is done at the panel, what it costs, the review."""
