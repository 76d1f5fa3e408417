-- depends: 0015.finds
-- Points of a reason that whoever hid the fault changed; empty where it is marked as usual.
ALTER TABLE exercises ADD COLUMN weights jsonb NOT NULL DEFAULT '{}';
