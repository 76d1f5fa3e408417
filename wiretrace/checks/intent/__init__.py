"""An operating description: what a circuit is to do, in lines that are read, judged by working it, and proposed."""
