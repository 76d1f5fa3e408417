"""Where potentials come from: supplies, transformers, direct voltage."""
