"""What the current goes through in the end: lamps, horns, valves, terminals."""
