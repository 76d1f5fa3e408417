-- depends: 0011.order-of-saves
-- Whose an attempt, a sheet or an exercise is: the hash of what that person's browser has; empty on one's own machine.
ALTER TABLE prediction_sheets ADD COLUMN owner text NOT NULL DEFAULT '';
ALTER TABLE prediction_attempts ADD COLUMN owner text NOT NULL DEFAULT '';
-- Marks by state, kept when they were told: by them a state is closed.
ALTER TABLE prediction_attempts ADD COLUMN marks jsonb NOT NULL DEFAULT '{}';

ALTER TABLE exercises ADD COLUMN owner text NOT NULL DEFAULT '';
-- The hash of what matters of the circuit, and the number under which an instructor gives the same to all.
ALTER TABLE exercises ADD COLUMN ref text NOT NULL DEFAULT '';
ALTER TABLE exercises ADD COLUMN number bigint;
-- What came of thinking it over once it had ended; it stays what it was.
ALTER TABLE exercises ADD COLUMN review jsonb;
-- Seeds are told to nobody any more, and nothing is drawn from them again.
ALTER TABLE exercises DROP COLUMN drawn;
CREATE INDEX exercises_ref ON exercises (ref);
-- Numbers of a circuit that have been closed: what they hide is told, and nobody begins under them any more.
CREATE TABLE closed_numbers (
    ref text NOT NULL CHECK (length(ref) = 64),
    number bigint NOT NULL,
    closed_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (ref, number)
);
-- What only this database knows: without it nobody can work out beforehand what a number hides.
CREATE TABLE secrets (name text PRIMARY KEY, value text NOT NULL);
INSERT INTO secrets (name, value) VALUES ('draw', gen_random_uuid() || '-' || gen_random_uuid());

-- What every fault would have shown along an exercise, while it is thought over; it goes when that is done.
CREATE TABLE followed (
    exercise_id bigint NOT NULL REFERENCES exercises ON DELETE CASCADE,
    -- The hash of what it was worked out by and from.
    name text NOT NULL CHECK (length(name) = 64),
    data bytea NOT NULL,
    PRIMARY KEY (exercise_id, name)
);
-- Rows were kept by number, and a release with another list of faults took them for those of others.
DROP TABLE fault_rows;
CREATE TABLE fault_dictionaries (
    -- The hash of everything that it is made from, the release too.
    ref text PRIMARY KEY CHECK (length(ref) = 64),
    used_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE fault_rows (
    ref text NOT NULL REFERENCES fault_dictionaries ON DELETE CASCADE,
    -- The hash of the faults of the row.
    name text NOT NULL CHECK (length(name) = 64),
    data bytea NOT NULL,
    PRIMARY KEY (ref, name)
);
-- Faults under a name that a run could be made by: exercises took their place.
DROP TABLE sealed_faults;
