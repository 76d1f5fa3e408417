"""Time: states, events, and the solution between them."""
