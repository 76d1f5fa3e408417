-- What has been done once for good, such as making the demo jobs.
CREATE TABLE marks (name text PRIMARY KEY, made_at timestamptz NOT NULL DEFAULT now());
INSERT INTO marks (name) SELECT 'demo' WHERE EXISTS (SELECT FROM jobs);
