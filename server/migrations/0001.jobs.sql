CREATE TABLE jobs (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    title text NOT NULL CHECK (title <> '' AND length(title) <= 200),
    place text NOT NULL DEFAULT '' CHECK (length(place) <= 200),
    circuit jsonb NOT NULL,
    version integer NOT NULL DEFAULT 1,
    writer text NOT NULL DEFAULT '' CHECK (length(writer) <= 64),
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now()
);
