-- depends: 0001.jobs
-- What was filled in to size a job's motor circuit, as it was written; every result is worked out from it anew.
CREATE TABLE sizings (
    job_id bigint PRIMARY KEY REFERENCES jobs ON DELETE CASCADE,
    sizing jsonb NOT NULL,
    version int NOT NULL DEFAULT 1,
    updated_at timestamptz NOT NULL DEFAULT now()
);
