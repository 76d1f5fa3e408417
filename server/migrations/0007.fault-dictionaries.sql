-- What each fault of a circuit would show, worked out a row at a time by whichever server has time for it.
CREATE TABLE fault_rows (
    -- The hash of the circuit with the states in which it is looked at.
    ref text NOT NULL CHECK (length(ref) = 64),
    number int NOT NULL,
    data bytea NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (ref, number)
);
