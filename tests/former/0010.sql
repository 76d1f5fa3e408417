SET statement_timeout = 0;
SET lock_timeout = 0;
SET idle_in_transaction_session_timeout = 0;
SET client_encoding = 'UTF8';
SET standard_conforming_strings = on;
SELECT pg_catalog.set_config('search_path', '', false);
SET check_function_bodies = false;
SET xmloption = content;
SET client_min_messages = warning;
SET row_security = off;
SET default_tablespace = '';
SET default_table_access_method = heap;
CREATE TABLE public.exercise_entries (
    exercise_id bigint NOT NULL,
    number integer NOT NULL,
    entry jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.exercises (
    id bigint NOT NULL,
    job_id bigint NOT NULL,
    who text NOT NULL,
    work_order text NOT NULL,
    drawn jsonb,
    circuit jsonb NOT NULL,
    sequence jsonb NOT NULL,
    faults jsonb NOT NULL,
    standing jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    ended_at timestamp with time zone,
    CONSTRAINT exercises_who_check CHECK ((length(who) <= 100))
);
ALTER TABLE public.exercises ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.exercises_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.fault_rows (
    ref text NOT NULL,
    number integer NOT NULL,
    data bytea NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT fault_rows_ref_check CHECK ((length(ref) = 64))
);
CREATE TABLE public.job_sequences (
    id bigint NOT NULL,
    job_id bigint NOT NULL,
    name text NOT NULL,
    sequence jsonb NOT NULL,
    updated_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT job_sequences_name_check CHECK (((length(name) >= 1) AND (length(name) <= 100)))
);
ALTER TABLE public.job_sequences ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.job_sequences_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.job_versions (
    id bigint NOT NULL,
    job_id bigint NOT NULL,
    name text NOT NULL,
    circuit jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT job_versions_name_check CHECK (((name <> ''::text) AND (length(name) <= 100)))
);
ALTER TABLE public.job_versions ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.job_versions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.jobs (
    id bigint NOT NULL,
    title text NOT NULL,
    place text DEFAULT ''::text NOT NULL,
    circuit jsonb NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    writer text DEFAULT ''::text NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    updated_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT jobs_place_check CHECK ((length(place) <= 200)),
    CONSTRAINT jobs_title_check CHECK (((title <> ''::text) AND (length(title) <= 200))),
    CONSTRAINT jobs_writer_check CHECK ((length(writer) <= 64))
);
ALTER TABLE public.jobs ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.jobs_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.marks (
    name text NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.migrations (
    name text NOT NULL,
    applied_at timestamp with time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.prediction_attempts (
    id bigint NOT NULL,
    sheet_id bigint NOT NULL,
    who text NOT NULL,
    started_at timestamp with time zone DEFAULT now() NOT NULL,
    ended_at timestamp with time zone,
    answers jsonb DEFAULT '{}'::jsonb NOT NULL,
    changes jsonb DEFAULT '[]'::jsonb NOT NULL,
    CONSTRAINT prediction_attempts_who_check CHECK ((length(who) <= 100))
);
ALTER TABLE public.prediction_attempts ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.prediction_attempts_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.prediction_sheets (
    id bigint NOT NULL,
    job_id bigint NOT NULL,
    sheet jsonb NOT NULL,
    circuit jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL
);
ALTER TABLE public.prediction_sheets ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.prediction_sheets_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.sealed_faults (
    name text NOT NULL,
    ref text NOT NULL,
    faults jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT sealed_faults_name_check CHECK ((length(name) = 32)),
    CONSTRAINT sealed_faults_ref_check CHECK ((length(ref) = 64))
);
CREATE TABLE public.sizing_versions (
    job_id bigint NOT NULL,
    version integer NOT NULL,
    sizing jsonb NOT NULL,
    kept_at timestamp with time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.sizings (
    job_id bigint NOT NULL,
    sizing jsonb NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    updated_at timestamp with time zone DEFAULT now() NOT NULL
);
INSERT INTO public.exercise_entries VALUES (1, 0, '{"kind": "begin", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "released", "active": false, "attention": false}}, "step": {"kind": "begin"}, "text": "", "at_us": 60000000, "right": null, "risks": [], "shown": null, "words": "Walk to the panel", "events": [], "number": 0, "took_s": 60, "locked_off": false}', '2026-12-01 02:41:48.545379+00');
INSERT INTO public.exercise_entries VALUES (1, 1, '{"kind": "work", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "pressed", "active": true, "attention": false}}, "step": {"kind": "work", "value": true, "device": "s1", "briefly": false, "operation": "press"}, "text": "", "at_us": 64000000, "right": null, "risks": [], "shown": null, "words": "S1: press", "events": [{"says": "pressed", "at_us": 62000000, "active": true, "device": "s1"}], "number": 1, "took_s": 4, "locked_off": false}', '2026-12-01 02:41:48.556452+00');
INSERT INTO public.exercise_entries VALUES (1, 2, '{"kind": "read", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "pressed", "active": true, "attention": false}}, "step": {"kind": "read", "measure": {"red": {"device": "h1", "terminal": "X1"}, "black": {"device": "h1", "terminal": "X2"}, "coupling": "auto", "instrument": "voltmeter"}}, "text": "", "at_us": 104000000, "right": null, "risks": [], "shown": {"note": "", "unit": "V AC", "beeps": false, "value": 229.99999568826806, "display": "230.0", "refused": false}, "words": "Volts: H1:X1 to H1:X2", "events": [], "number": 2, "took_s": 40, "locked_off": false}', '2026-12-01 02:41:48.563+00');
INSERT INTO public.exercise_entries VALUES (1, 3, '{"kind": "answer", "seen": {}, "step": null, "text": "It is sound. Against it spoke no. 2: Volts: H1:X1 to H1:X2 showed 230.0 V AC.", "at_us": 104000000, "right": false, "risks": [], "shown": null, "words": "Answer: The wire 2 from F1:2 to S1:13 is open", "events": [], "number": 3, "took_s": 300, "locked_off": false}', '2026-12-01 02:41:48.587457+00');
INSERT INTO public.exercise_entries VALUES (2, 0, '{"kind": "begin", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "released", "active": false, "attention": false}}, "step": {"kind": "begin"}, "text": "", "at_us": 60000000, "right": null, "risks": [], "shown": null, "words": "Walk to the panel", "events": [], "number": 0, "took_s": 60, "locked_off": false}', '2026-12-01 02:41:48.601929+00');
INSERT INTO public.exercise_entries VALUES (2, 1, '{"kind": "work", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "pressed", "active": true, "attention": false}}, "step": {"kind": "work", "value": true, "device": "s1", "briefly": false, "operation": "press"}, "text": "", "at_us": 64000000, "right": null, "risks": [], "shown": null, "words": "S1: press", "events": [{"says": "pressed", "at_us": 62000000, "active": true, "device": "s1"}], "number": 1, "took_s": 4, "locked_off": false}', '2026-12-01 02:41:48.612603+00');
INSERT INTO public.exercise_entries VALUES (2, 2, '{"kind": "read", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "pressed", "active": true, "attention": false}}, "step": {"kind": "read", "measure": {"red": {"device": "h1", "terminal": "X1"}, "black": {"device": "h1", "terminal": "X2"}, "coupling": "auto", "instrument": "voltmeter"}}, "text": "", "at_us": 104000000, "right": null, "risks": [], "shown": {"note": "", "unit": "V AC", "beeps": false, "value": 229.99999568826806, "display": "230.0", "refused": false}, "words": "Volts: H1:X1 to H1:X2", "events": [], "number": 2, "took_s": 40, "locked_off": false}', '2026-12-01 02:41:48.618886+00');
INSERT INTO public.exercise_entries VALUES (2, 3, '{"kind": "answer", "seen": {}, "step": null, "text": "It is sound. Against it spoke no. 2: Volts: H1:X1 to H1:X2 showed 230.0 V AC.", "at_us": 104000000, "right": false, "risks": [], "shown": null, "words": "Answer: The wire 2 from F1:2 to S1:13 is open", "events": [], "number": 3, "took_s": 300, "locked_off": false}', '2026-12-01 02:41:48.642562+00');
INSERT INTO public.exercise_entries VALUES (2, 4, '{"kind": "answer", "seen": {}, "step": null, "text": "So it is, and it is mended. Prove it by running the sequence.", "at_us": 104000000, "right": true, "risks": [], "shown": null, "words": "Answer: The lamp H1 is open", "events": [], "number": 4, "took_s": 180, "locked_off": false}', '2026-12-01 02:41:48.651707+00');
INSERT INTO public.exercise_entries VALUES (2, 5, '{"kind": "end", "seen": {}, "step": null, "text": "Hidden was: The lamp H1 is open.", "at_us": 104000000, "right": true, "risks": [], "shown": null, "words": "End", "events": [], "number": 5, "took_s": 0, "locked_off": false}', '2026-12-01 02:41:48.655898+00');
INSERT INTO public.exercise_entries VALUES (3, 0, '{"kind": "begin", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "released", "active": false, "attention": false}}, "step": {"kind": "begin"}, "text": "", "at_us": 60000000, "right": null, "risks": [], "shown": null, "words": "Walk to the panel", "events": [], "number": 0, "took_s": 60, "locked_off": false}', '2026-12-01 02:41:48.678189+00');
INSERT INTO public.exercise_entries VALUES (3, 1, '{"kind": "work", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "pressed", "active": true, "attention": false}}, "step": {"kind": "work", "value": true, "device": "s1", "briefly": false, "operation": "press"}, "text": "", "at_us": 64000000, "right": null, "risks": [], "shown": null, "words": "S1: press", "events": [{"says": "pressed", "at_us": 62000000, "active": true, "device": "s1"}], "number": 1, "took_s": 4, "locked_off": false}', '2026-12-01 02:41:48.686733+00');
INSERT INTO public.exercise_entries VALUES (3, 2, '{"kind": "read", "seen": {"f1": {"on": {}, "says": "on", "active": true, "attention": false}, "g1": {"on": {}, "says": "on", "active": true, "attention": false}, "h1": {"on": {}, "says": "dark", "active": false, "attention": false}, "k1": {"on": {}, "says": "out", "active": false, "attention": false}, "s1": {"on": {}, "says": "pressed", "active": true, "attention": false}}, "step": {"kind": "read", "measure": {"red": {"device": "h1", "terminal": "X1"}, "black": {"device": "h1", "terminal": "X2"}, "coupling": "auto", "instrument": "voltmeter"}}, "text": "", "at_us": 104000000, "right": null, "risks": [], "shown": {"note": "", "unit": "V AC", "beeps": false, "value": 229.99999568826829, "display": "230.0", "refused": false}, "words": "Volts: H1:X1 to H1:X2", "events": [], "number": 2, "took_s": 40, "locked_off": false}', '2026-12-01 02:41:48.6926+00');
INSERT INTO public.exercise_entries VALUES (3, 3, '{"kind": "answer", "seen": {}, "step": null, "text": "It is sound. Against it spoke no. 2: Volts: H1:X1 to H1:X2 showed 230.0 V AC.", "at_us": 104000000, "right": false, "risks": [], "shown": null, "words": "Answer: The wire 2 from F1:2 to S1:13 is open", "events": [], "number": 3, "took_s": 300, "locked_off": false}', '2026-12-01 02:41:48.715947+00');
INSERT INTO public.exercises OVERRIDING SYSTEM VALUE VALUES (1, 1, 'Ida', 'All went as usual up to “Under power, nothing touched”. At “Hold S1”: H1 dark. Usually: H1 lit. Find out why, and mend it.', 'null', '{"title": "test", "format": "wiretrace/circuit", "sheets": [], "strays": [], "devices": [{"id": "g1", "kind": "supply_single_phase", "label": "G1", "params": {}, "function": "", "mounting": null}, {"id": "f1", "kind": "breaker", "label": "F1", "params": {"poles": 1}, "function": "", "mounting": null}, {"id": "s1", "kind": "push_button", "label": "S1", "params": {"contacts": "NO"}, "function": "", "mounting": null}, {"id": "h1", "kind": "lamp", "label": "H1", "params": {}, "function": "", "mounting": null}, {"id": "k1", "kind": "control_relay", "label": "K1", "params": {"coil_kind": "DC", "coil_voltage_v": 24.0, "drop_out_percent": 10.0}, "function": "", "mounting": null}], "version": 1, "set_aside": [], "conductors": [{"a": {"device": "g1", "terminal": "L"}, "b": {"device": "f1", "terminal": "1"}, "id": "w0", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "f1", "terminal": "2"}, "b": {"device": "s1", "terminal": "13"}, "id": "w1", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "s1", "terminal": "14"}, "b": {"device": "h1", "terminal": "X1"}, "id": "w2", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "h1", "terminal": "X2"}, "b": {"device": "g1", "terminal": "N"}, "id": "w3", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}], "convention": "iec"}', '{"steps": []}', '[{"kind": "open", "seed": 0, "place": "h1", "branch": "lamp", "slot_us": 0, "start_us": 0}]', '{"care": {"again": [], "proof": 0, "locked": false, "tripped": []}, "left": [{"kind": "open", "seed": 0, "place": "h1", "branch": "lamp", "slot_us": 0, "start_us": 0}], "state": {"devices": {"f1": {"on": true, "heat": 0.0000000000000000000000012398340005731027, "tripped": false, "magnetic": false, "trips_at_us": null, "released_at_us": null}, "g1": {"on": true}, "h1": {}, "k1": {"heat": 0.0, "iron": 1.0, "burnt": false, "looks": 0, "driven": false, "pushed": false, "position": 0, "energised": false, "burns_at_us": null, "moves_at_us": null}, "s1": {"driven": true, "position": 2, "moves_at_us": null}}, "time_us": 104000000}}', '2026-12-01 02:41:48.545379+00', NULL);
INSERT INTO public.exercises OVERRIDING SYSTEM VALUE VALUES (2, 1, 'Ida', 'All went as usual up to “Under power, nothing touched”. At “Hold S1”: H1 dark. Usually: H1 lit. Find out why, and mend it.', 'null', '{"title": "test", "format": "wiretrace/circuit", "sheets": [], "strays": [], "devices": [{"id": "g1", "kind": "supply_single_phase", "label": "G1", "params": {}, "function": "", "mounting": null}, {"id": "f1", "kind": "breaker", "label": "F1", "params": {"poles": 1}, "function": "", "mounting": null}, {"id": "s1", "kind": "push_button", "label": "S1", "params": {"contacts": "NO"}, "function": "", "mounting": null}, {"id": "h1", "kind": "lamp", "label": "H1", "params": {}, "function": "", "mounting": null}, {"id": "k1", "kind": "control_relay", "label": "K1", "params": {"coil_kind": "DC", "coil_voltage_v": 24.0, "drop_out_percent": 10.0}, "function": "", "mounting": null}], "version": 1, "set_aside": [], "conductors": [{"a": {"device": "g1", "terminal": "L"}, "b": {"device": "f1", "terminal": "1"}, "id": "w0", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "f1", "terminal": "2"}, "b": {"device": "s1", "terminal": "13"}, "id": "w1", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "s1", "terminal": "14"}, "b": {"device": "h1", "terminal": "X1"}, "id": "w2", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "h1", "terminal": "X2"}, "b": {"device": "g1", "terminal": "N"}, "id": "w3", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}], "convention": "iec"}', '{"steps": []}', '[{"kind": "open", "seed": 0, "place": "h1", "branch": "lamp", "slot_us": 0, "start_us": 0}]', '{"care": {"again": [], "proof": 0, "locked": false, "tripped": []}, "left": [], "state": {"devices": {"f1": {"on": true, "heat": 0.0000000000000000000000012398340005731027, "tripped": false, "magnetic": false, "trips_at_us": null, "released_at_us": null}, "g1": {"on": true}, "h1": {}, "k1": {"heat": 0.0, "iron": 1.0, "burnt": false, "looks": 0, "driven": false, "pushed": false, "position": 0, "energised": false, "burns_at_us": null, "moves_at_us": null}, "s1": {"driven": true, "position": 2, "moves_at_us": null}}, "time_us": 104000000}}', '2026-12-01 02:41:48.601929+00', '2026-12-01 02:41:48.655898+00');
INSERT INTO public.exercises OVERRIDING SYSTEM VALUE VALUES (3, 1, 'Ida', 'All went as usual up to “Under power, nothing touched”. At “Hold S1”: H1 dark. Usually: H1 lit. Find out why, and mend it.', '{"seed": 5, "level": 1, "sorts": []}', '{"title": "test", "format": "wiretrace/circuit", "sheets": [], "strays": [], "devices": [{"id": "g1", "kind": "supply_single_phase", "label": "G1", "params": {}, "function": "", "mounting": null}, {"id": "f1", "kind": "breaker", "label": "F1", "params": {"poles": 1}, "function": "", "mounting": null}, {"id": "s1", "kind": "push_button", "label": "S1", "params": {"contacts": "NO"}, "function": "", "mounting": null}, {"id": "h1", "kind": "lamp", "label": "H1", "params": {}, "function": "", "mounting": null}, {"id": "k1", "kind": "control_relay", "label": "K1", "params": {"coil_kind": "DC", "coil_voltage_v": 24.0, "drop_out_percent": 10.0}, "function": "", "mounting": null}], "version": 1, "set_aside": [], "conductors": [{"a": {"device": "g1", "terminal": "L"}, "b": {"device": "f1", "terminal": "1"}, "id": "w0", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "f1", "terminal": "2"}, "b": {"device": "s1", "terminal": "13"}, "id": "w1", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "s1", "terminal": "14"}, "b": {"device": "h1", "terminal": "X1"}, "id": "w2", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "h1", "terminal": "X2"}, "b": {"device": "g1", "terminal": "N"}, "id": "w3", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}], "convention": "iec"}', '{"steps": []}', '[{"kind": "loose_terminal", "seed": 0, "place": "h1", "slot_us": 0, "start_us": 0, "terminal": "X2", "resistance_ohm": null}]', '{"care": {"again": [], "proof": 0, "locked": false, "tripped": []}, "left": [{"kind": "loose_terminal", "seed": 0, "place": "h1", "slot_us": 0, "start_us": 0, "terminal": "X2", "resistance_ohm": null}], "state": {"devices": {"f1": {"on": true, "heat": 0.0000000000000000000000025302734705573524, "tripped": false, "magnetic": false, "trips_at_us": null, "released_at_us": null}, "g1": {"on": true}, "h1": {}, "k1": {"heat": 0.0, "iron": 1.0, "burnt": false, "looks": 0, "driven": false, "pushed": false, "position": 0, "energised": false, "burns_at_us": null, "moves_at_us": null}, "s1": {"driven": true, "position": 2, "moves_at_us": null}}, "time_us": 104000000}}', '2026-12-01 02:41:48.678189+00', NULL);
INSERT INTO public.job_sequences OVERRIDING SYSTEM VALUE VALUES (1, 1, 'Start', '{"steps": [{"do": [["S1", "press", true]], "text": "Hold S1", "expect": {"H1": "lit"}, "faults": null, "wait_s": 1.0}]}', '2026-12-01 02:41:48.511821+00');
INSERT INTO public.job_versions OVERRIDING SYSTEM VALUE VALUES (1, 1, 'as built', '{"title": "test", "format": "wiretrace/circuit", "sheets": [], "strays": [], "devices": [{"id": "g1", "kind": "supply_single_phase", "label": "G1", "params": {}, "function": "", "mounting": null}, {"id": "f1", "kind": "breaker", "label": "F1", "params": {"poles": 1}, "function": "", "mounting": null}, {"id": "s1", "kind": "push_button", "label": "S1", "params": {"contacts": "NO"}, "function": "", "mounting": null}, {"id": "h1", "kind": "lamp", "label": "H1", "params": {}, "function": "", "mounting": null}, {"id": "k1", "kind": "control_relay", "label": "K1", "params": {"coil_kind": "DC", "coil_voltage_v": 24.0, "drop_out_percent": 10.0}, "function": "", "mounting": null}], "version": 1, "set_aside": [], "conductors": [{"a": {"device": "g1", "terminal": "L"}, "b": {"device": "f1", "terminal": "1"}, "id": "w0", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "f1", "terminal": "2"}, "b": {"device": "s1", "terminal": "13"}, "id": "w1", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "s1", "terminal": "14"}, "b": {"device": "h1", "terminal": "X1"}, "id": "w2", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "h1", "terminal": "X2"}, "b": {"device": "g1", "terminal": "N"}, "id": "w3", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}], "convention": "iec"}', '2026-12-01 02:41:48.509332+00');
INSERT INTO public.jobs OVERRIDING SYSTEM VALUE VALUES (1, 'Sump pump', 'Boiler house', '{"title": "test", "format": "wiretrace/circuit", "sheets": [], "strays": [], "devices": [{"id": "g1", "kind": "supply_single_phase", "label": "G1", "params": {}, "function": "", "mounting": null}, {"id": "f1", "kind": "breaker", "label": "F1", "params": {"poles": 1}, "function": "", "mounting": null}, {"id": "s1", "kind": "push_button", "label": "S1", "params": {"contacts": "NO"}, "function": "", "mounting": null}, {"id": "h1", "kind": "lamp", "label": "H1", "params": {}, "function": "", "mounting": null}, {"id": "k1", "kind": "control_relay", "label": "K1", "params": {"coil_kind": "DC", "coil_voltage_v": 24.0, "drop_out_percent": 10.0}, "function": "", "mounting": null}], "version": 1, "set_aside": [], "conductors": [{"a": {"device": "g1", "terminal": "L"}, "b": {"device": "f1", "terminal": "1"}, "id": "w0", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "f1", "terminal": "2"}, "b": {"device": "s1", "terminal": "13"}, "id": "w1", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "s1", "terminal": "14"}, "b": {"device": "h1", "terminal": "X1"}, "id": "w2", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "h1", "terminal": "X2"}, "b": {"device": "g1", "terminal": "N"}, "id": "w3", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}], "convention": "iec"}', 1, '', '2026-12-01 02:41:48.505257+00', '2026-12-01 02:41:48.505257+00');
INSERT INTO public.migrations VALUES ('0001.jobs', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0002.job-versions', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0003.marks', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0004.sealed-faults', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0005.predictions', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0006.sequences', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0007.fault-dictionaries', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0008.exercises', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0009.sizings', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.migrations VALUES ('0010.sizing-history', '2026-12-01 02:41:48.356443+00');
INSERT INTO public.prediction_attempts OVERRIDING SYSTEM VALUE VALUES (1, 1, 'Ida', '2026-12-01 02:41:48.519616+00', NULL, '{"0": {"A": "230"}}', '[{"at": "2026-12-01T02:41:48.522321+00:00", "text": "230", "place": "A", "state": 0}]');
INSERT INTO public.prediction_sheets OVERRIDING SYSTEM VALUE VALUES (1, 1, '{"hands": [{"at_us": 1000000, "value": true, "device": "s1", "operation": "press"}], "hints": false, "title": "Where does it stand?", "counts": "exact", "format": "wiretrace/prediction-sheet", "meters": [{"red": {"device": "h1", "terminal": "X1"}, "black": {"device": "h1", "terminal": "X2"}, "letter": "A"}], "states": [{"at_us": 500000, "title": "At rest"}, {"at_us": 2000000, "title": "Held"}], "devices": ["h1"], "version": 1}', '{"title": "test", "format": "wiretrace/circuit", "sheets": [], "strays": [], "devices": [{"id": "g1", "kind": "supply_single_phase", "label": "G1", "params": {}, "function": "", "mounting": null}, {"id": "f1", "kind": "breaker", "label": "F1", "params": {"poles": 1}, "function": "", "mounting": null}, {"id": "s1", "kind": "push_button", "label": "S1", "params": {"contacts": "NO"}, "function": "", "mounting": null}, {"id": "h1", "kind": "lamp", "label": "H1", "params": {}, "function": "", "mounting": null}, {"id": "k1", "kind": "control_relay", "label": "K1", "params": {"coil_kind": "DC", "coil_voltage_v": 24.0, "drop_out_percent": 10.0}, "function": "", "mounting": null}], "version": 1, "set_aside": [], "conductors": [{"a": {"device": "g1", "terminal": "L"}, "b": {"device": "f1", "terminal": "1"}, "id": "w0", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "f1", "terminal": "2"}, "b": {"device": "s1", "terminal": "13"}, "id": "w1", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "s1", "terminal": "14"}, "b": {"device": "h1", "terminal": "X1"}, "id": "w2", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}, {"a": {"device": "h1", "terminal": "X2"}, "b": {"device": "g1", "terminal": "N"}, "id": "w3", "colour": null, "number": null, "length_m": 1.0, "cross_section_mm2": 1.5}], "convention": "iec"}', '2026-12-01 02:41:48.517694+00');
INSERT INTO public.sealed_faults VALUES ('26d41d97e58ffa07ecc27598fbe11bf1', '75b7d961020fc6b24b2e5abebeb0f61c40ff8a8bdc22ca4b8352fcc02d71c535', '[{"kind": "open", "seed": 0, "place": "h1", "branch": "lamp", "slot_us": 0, "start_us": 0}]', '2026-12-01 02:41:48.798922+00');
INSERT INTO public.sizing_versions VALUES (1, 1, '{"own": {}, "fields": {"power": "1.5 kW", "voltage": "400 V"}, "format": "wiretrace/sizing", "series": {}, "schools": {}, "version": 1}', '2026-12-01 02:41:48.513717+00');
INSERT INTO public.sizings VALUES (1, '{"own": {}, "fields": {"power": "1.5 kW", "voltage": "400 V"}, "format": "wiretrace/sizing", "series": {}, "schools": {}, "version": 1}', 1, '2026-12-01 02:41:48.513717+00');
SELECT pg_catalog.setval('public.exercises_id_seq', 3, true);
SELECT pg_catalog.setval('public.job_sequences_id_seq', 1, true);
SELECT pg_catalog.setval('public.job_versions_id_seq', 1, true);
SELECT pg_catalog.setval('public.jobs_id_seq', 1, true);
SELECT pg_catalog.setval('public.prediction_attempts_id_seq', 1, true);
SELECT pg_catalog.setval('public.prediction_sheets_id_seq', 1, true);
ALTER TABLE ONLY public.exercise_entries
    ADD CONSTRAINT exercise_entries_pkey PRIMARY KEY (exercise_id, number);
ALTER TABLE ONLY public.exercises
    ADD CONSTRAINT exercises_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.fault_rows
    ADD CONSTRAINT fault_rows_pkey PRIMARY KEY (ref, number);
ALTER TABLE ONLY public.job_sequences
    ADD CONSTRAINT job_sequences_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.job_versions
    ADD CONSTRAINT job_versions_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.jobs
    ADD CONSTRAINT jobs_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.marks
    ADD CONSTRAINT marks_pkey PRIMARY KEY (name);
ALTER TABLE ONLY public.migrations
    ADD CONSTRAINT migrations_pkey PRIMARY KEY (name);
ALTER TABLE ONLY public.prediction_attempts
    ADD CONSTRAINT prediction_attempts_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.prediction_sheets
    ADD CONSTRAINT prediction_sheets_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.sealed_faults
    ADD CONSTRAINT sealed_faults_pkey PRIMARY KEY (name);
ALTER TABLE ONLY public.sizing_versions
    ADD CONSTRAINT sizing_versions_pkey PRIMARY KEY (job_id, version);
ALTER TABLE ONLY public.sizings
    ADD CONSTRAINT sizings_pkey PRIMARY KEY (job_id);
CREATE INDEX exercises_job ON public.exercises USING btree (job_id);
CREATE INDEX job_sequences_job ON public.job_sequences USING btree (job_id);
CREATE INDEX job_versions_job ON public.job_versions USING btree (job_id);
CREATE INDEX prediction_attempts_sheet ON public.prediction_attempts USING btree (sheet_id);
CREATE INDEX prediction_sheets_job ON public.prediction_sheets USING btree (job_id);
ALTER TABLE ONLY public.exercise_entries
    ADD CONSTRAINT exercise_entries_exercise_id_fkey FOREIGN KEY (exercise_id) REFERENCES public.exercises(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.exercises
    ADD CONSTRAINT exercises_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.jobs(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.job_sequences
    ADD CONSTRAINT job_sequences_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.jobs(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.job_versions
    ADD CONSTRAINT job_versions_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.jobs(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.prediction_attempts
    ADD CONSTRAINT prediction_attempts_sheet_id_fkey FOREIGN KEY (sheet_id) REFERENCES public.prediction_sheets(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.prediction_sheets
    ADD CONSTRAINT prediction_sheets_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.jobs(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.sizing_versions
    ADD CONSTRAINT sizing_versions_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.jobs(id) ON DELETE CASCADE;
ALTER TABLE ONLY public.sizings
    ADD CONSTRAINT sizings_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.jobs(id) ON DELETE CASCADE;
