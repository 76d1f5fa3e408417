-- depends: 0001.jobs
-- A hidden fault to be found at the panel of a job. What is hidden never leaves the server before the end.
CREATE TABLE exercises (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id bigint NOT NULL REFERENCES jobs ON DELETE CASCADE,
    who text NOT NULL CHECK (length(who) <= 100),
    work_order text NOT NULL,
    -- How it was drawn, so that it can be given again; null where somebody chose the faults.
    drawn jsonb,
    circuit jsonb NOT NULL,
    sequence jsonb NOT NULL,
    faults jsonb NOT NULL,
    -- What holds after the last entry: the state of the panel, what is mended, how far it is proved dead.
    standing jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
CREATE INDEX exercises_job ON exercises (job_id);
CREATE TABLE exercise_entries (
    exercise_id bigint NOT NULL REFERENCES exercises ON DELETE CASCADE,
    number int NOT NULL,
    entry jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (exercise_id, number)
);
