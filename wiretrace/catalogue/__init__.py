"""What devices exist. To add one, see docs/adding-a-device.md."""
