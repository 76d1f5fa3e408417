-- depends: 0010.sizing-history
-- A save carries its writer's count of changes, so that an older one that comes late does not overwrite a newer one.
ALTER TABLE jobs ADD COLUMN serial bigint NOT NULL DEFAULT 0;
ALTER TABLE jobs ADD COLUMN names_writer text NOT NULL DEFAULT '' CHECK (length(names_writer) <= 64);
ALTER TABLE jobs ADD COLUMN names_serial bigint NOT NULL DEFAULT 0;
ALTER TABLE sizings ADD COLUMN writer text NOT NULL DEFAULT '' CHECK (length(writer) <= 64);
ALTER TABLE sizings ADD COLUMN serial bigint NOT NULL DEFAULT 0;
ALTER TABLE job_sequences ADD COLUMN version int NOT NULL DEFAULT 1;
ALTER TABLE job_sequences ADD COLUMN writer text NOT NULL DEFAULT '' CHECK (length(writer) <= 64);
ALTER TABLE job_sequences ADD COLUMN serial bigint NOT NULL DEFAULT 0;
-- What was read at a real panel of a job's circuit, as it was written.
CREATE TABLE panels (
    job_id bigint PRIMARY KEY REFERENCES jobs ON DELETE CASCADE,
    panel jsonb NOT NULL,
    version int NOT NULL DEFAULT 1,
    writer text NOT NULL CHECK (length(writer) <= 64),
    serial bigint NOT NULL,
    updated_at timestamptz NOT NULL DEFAULT now()
);
