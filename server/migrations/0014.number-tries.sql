-- depends: 0013.sign-ins
-- Who has begun an exercise under a number of a circuit. It outlives the exercise and its job: who deletes what he tried
-- answers out in does not get another try.
CREATE TABLE number_tries (
    ref text NOT NULL,
    number bigint NOT NULL,
    owner text NOT NULL,
    who text NOT NULL,
    begun_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (ref, number, owner, who)
);
INSERT INTO number_tries (ref, number, owner, who)
    SELECT ref, number, owner, who FROM exercises WHERE number IS NOT NULL ON CONFLICT DO NOTHING;
