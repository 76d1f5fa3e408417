"""The circuit document: what it holds, how it is read, which potentials it has."""
