-- depends: 0009.sizings
-- What a sizing was before: the last of every ten minutes in which somebody worked on it.
CREATE TABLE sizing_versions (
    job_id bigint NOT NULL REFERENCES jobs ON DELETE CASCADE,
    version int NOT NULL,
    sizing jsonb NOT NULL,
    kept_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (job_id, version)
);
INSERT INTO sizing_versions (job_id, version, sizing, kept_at) SELECT job_id, version, sizing, updated_at FROM sizings;
