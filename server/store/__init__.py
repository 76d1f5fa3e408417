"""Plain SQL, one module a table. Every write is one transaction."""
