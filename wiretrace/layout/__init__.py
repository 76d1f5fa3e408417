"""Where parts stand on a sheet when nobody has said."""
