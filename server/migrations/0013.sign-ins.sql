-- depends: 0012.whose-and-when
-- Who has given the shared password, by the hash of what the browser then got; and addresses that gave wrong ones.
CREATE TABLE sign_ins (
    token_hash text PRIMARY KEY CHECK (length(token_hash) = 64),
    made_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNLOGGED TABLE wrong_passwords (
    address text PRIMARY KEY CHECK (length(address) <= 64),
    count int NOT NULL,
    last_at timestamptz NOT NULL DEFAULT now(),
    locked_until timestamptz NOT NULL DEFAULT now()
);
