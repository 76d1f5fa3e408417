-- Circuits that somebody works with, by the hash of their content, so that any server knows them by name.
CREATE TABLE circuits (
    hash text PRIMARY KEY CHECK (length(hash) = 64),
    document text NOT NULL,
    used_on date NOT NULL DEFAULT current_date
);
CREATE INDEX circuits_used_on ON circuits (used_on);
-- What has been done once for good, such as making the demo jobs.
CREATE TABLE marks (name text PRIMARY KEY, made_at timestamptz NOT NULL DEFAULT now());
INSERT INTO marks (name) SELECT 'demo' WHERE EXISTS (SELECT FROM jobs);
