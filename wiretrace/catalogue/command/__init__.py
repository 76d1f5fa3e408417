"""What hands and processes operate: buttons, switches, sensors."""
