-- Faults that a circuit has and that only the server may know, called by a name that says nothing of them.
CREATE TABLE sealed_faults (
    name text PRIMARY KEY CHECK (length(name) = 32),
    ref text NOT NULL CHECK (length(ref) = 64),
    faults jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
