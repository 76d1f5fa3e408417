"""Programs of a controller."""
