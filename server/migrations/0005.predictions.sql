-- depends: 0001.jobs
CREATE TABLE prediction_sheets (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id bigint NOT NULL REFERENCES jobs ON DELETE CASCADE,
    sheet jsonb NOT NULL,
    -- As it was when the sheet was made: what is asked must not change with the drawing.
    circuit jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX prediction_sheets_job ON prediction_sheets (job_id);
CREATE TABLE prediction_attempts (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    sheet_id bigint NOT NULL REFERENCES prediction_sheets ON DELETE CASCADE,
    who text NOT NULL CHECK (length(who) <= 100),
    started_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz,
    -- What stands on the sheet now, by state and by meter or device.
    answers jsonb NOT NULL DEFAULT '{}',
    -- Every answer in the order in which it was written, with its time.
    changes jsonb NOT NULL DEFAULT '[]'
);
CREATE INDEX prediction_attempts_sheet ON prediction_attempts (sheet_id);
