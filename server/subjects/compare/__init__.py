"""What makes one document another."""
