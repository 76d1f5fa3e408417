"""What goes over the wire to screen and command line, as plain data."""
