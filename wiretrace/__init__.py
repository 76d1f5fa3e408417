"""Wire Trace core: circuits, their solution, and the reasons for a reading.

Nothing in here knows of Flask, SQL or a screen, and only `formats` and `cli`
read or write files. Dependencies point one way:

    catalogue <- circuit <- simulation <- instruments, explain <- cli
                 network <- simulation
"""
