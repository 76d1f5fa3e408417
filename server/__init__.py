"""The web server: jobs in PostgreSQL, and the core behind an HTTP interface.

No simulation is kept in memory: a request carries circuit and state and gets the trajectory
and the next state, so any worker answers any request.
"""
