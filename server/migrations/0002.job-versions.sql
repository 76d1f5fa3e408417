-- depends: 0001.jobs
CREATE TABLE job_versions (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id bigint NOT NULL REFERENCES jobs ON DELETE CASCADE,
    name text NOT NULL CHECK (name <> '' AND length(name) <= 100),
    circuit jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX job_versions_job ON job_versions (job_id);
