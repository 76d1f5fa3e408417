"""Wire Trace core: circuits, their solution, and the reasons for a reading.

Nothing in here knows of Flask, SQL or a screen, and only `formats` and `cli`
read or write files. Dependencies point one way:

    catalogue <- circuit <- simulation <- instruments, explain <- cli
                 network <- simulation
"""

import os

# Small matrices gain nothing from more threads, and two of them on two busy cores wait for each other. This has to
# be said before numpy is first imported.
for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
    os.environ.setdefault(_name, "1")
