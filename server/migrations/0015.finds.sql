-- depends: 0014.number-tries
-- Faults that were found at a real panel, and how likely each kind was beforehand in that circuit: what is found more
-- often than that is likelier here.
CREATE TABLE finds (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id bigint NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    kinds text[] NOT NULL,
    expected jsonb NOT NULL,
    found_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX finds_of_job ON finds (job_id);
