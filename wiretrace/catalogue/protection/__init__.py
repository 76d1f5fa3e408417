"""What protects, watches and disconnects."""
