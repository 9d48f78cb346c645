"""That a coding's code exists is judged once a statement, no more once a row: what merging thousands of codings waited for."""

import django.db.models.deletion
from django.db import migrations, models

RULES = """
-- Those named are kept from being deleted until this is over, as a foreign key does.
CREATE FUNCTION cohortia_hold_codes(named bigint[]) RETURNS void LANGUAGE plpgsql AS $$
DECLARE there integer;
BEGIN
  PERFORM 1 FROM coding_code WHERE id = ANY (named) ORDER BY id FOR KEY SHARE;
  GET DIAGNOSTICS there = ROW_COUNT;
  IF there < cardinality(named) THEN
    RAISE EXCEPTION 'a coding names a code that isn''t there' USING ERRCODE = 'foreign_key_violation';
  END IF;
END $$;
CREATE FUNCTION cohortia_codings_have_codes() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM cohortia_hold_codes(ARRAY(SELECT DISTINCT code_id FROM fresh));
  RETURN NULL;
END $$;
CREATE TRIGGER codings_have_codes AFTER INSERT ON coding_coding
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codings_have_codes();

CREATE OR REPLACE FUNCTION cohortia_codings_still_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE before bigint[]; now bigint[];
BEGIN
  before := ARRAY(SELECT DISTINCT code_id FROM was);
  now := ARRAY(SELECT DISTINCT code_id FROM fresh);
  PERFORM cohortia_hold_codes(now);
  -- Codes of one project, before and now: each row is in the project that it was in.
  IF 1 < (SELECT count(DISTINCT project_id) FROM coding_code WHERE id = ANY (before || now))
  AND EXISTS (
    SELECT 1 FROM fresh
    JOIN coding_code c ON c.id = fresh.code_id
    JOIN coding_passage p ON p.id = fresh.passage_id
    JOIN gather_document d ON d.id = p.document_id
    WHERE c.project_id <> d.project_id
  ) THEN PERFORM cohortia_refuse('code and passage are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE FUNCTION cohortia_coding_moved_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM coding_code WHERE id = NEW.code_id)
     <> (SELECT d.project_id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE p.id = NEW.passage_id)
  THEN PERFORM cohortia_refuse('code and passage are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER coding_moved_in_one_project AFTER UPDATE OF passage_id ON coding_coding
  FOR EACH ROW WHEN (OLD.passage_id <> NEW.passage_id) EXECUTE FUNCTION cohortia_coding_moved_in_one_project();

-- By the index, however few codes there are: nearly always there is nothing to be found.
CREATE FUNCTION cohortia_codes_go_after_codings() RETURNS trigger LANGUAGE plpgsql SET enable_seqscan = off AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM gone WHERE EXISTS (SELECT 1 FROM coding_coding WHERE code_id = gone.id)) THEN
    RAISE EXCEPTION 'a code that codings name can''t go' USING ERRCODE = 'foreign_key_violation';
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER codes_go_after_codings AFTER DELETE ON coding_code
  REFERENCING OLD TABLE AS gone FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codes_go_after_codings();

CREATE FUNCTION cohortia_codes_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM coding_coding) THEN
    RAISE EXCEPTION 'codes that codings may name can''t be emptied or numbered anew' USING ERRCODE = 'foreign_key_violation';
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER codes_keep_their_numbers AFTER UPDATE OF id ON coding_code
  FOR EACH ROW WHEN (OLD.id <> NEW.id) EXECUTE FUNCTION cohortia_codes_stay();
CREATE TRIGGER codes_are_emptied_after_codings AFTER TRUNCATE ON coding_code
  FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codes_stay();
"""


class Migration(migrations.Migration):
    dependencies = [("coding", "0008_many_at_once")]
    operations = [
        migrations.AlterField(
            model_name="coding",
            name="code",
            field=models.ForeignKey(
                db_constraint=False,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="codings",
                to="coding.code",
            ),
        ),
        migrations.RunSQL(RULES, migrations.RunSQL.noop),
    ]
