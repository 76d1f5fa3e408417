"""What is switched by a coil, a clock or a program."""
