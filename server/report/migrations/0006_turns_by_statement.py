"""New turns are looked at a statement at a time, a transcript at once; one by one they took longer than writing them.
What comes back by undo may come before its document or speaker: those look at their turns when all is there."""

from django.db import migrations

RULES = """
DROP TRIGGER turn_of_its_document ON gather_turn;
CREATE CONSTRAINT TRIGGER turn_of_its_document AFTER UPDATE ON gather_turn
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_turn_of_its_document();

CREATE FUNCTION cohortia_turns_of_their_documents() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (
    SELECT 1 FROM fresh
    LEFT JOIN gather_document d ON d.id = fresh.document_id
    LEFT JOIN gather_speaker s ON s.id = fresh.speaker_id
    WHERE fresh."end" > d.length OR s.document_id <> fresh.document_id
  ) THEN PERFORM cohortia_refuse('a turn and its speaker are of different documents'); END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER turns_of_their_documents AFTER INSERT ON gather_turn
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_turns_of_their_documents();

CREATE FUNCTION cohortia_new_document_holds_its_turns() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM gather_turn t JOIN gather_document d ON d.id = t.document_id
             WHERE t.document_id = NEW.id AND t."end" > d.length)
  THEN PERFORM cohortia_refuse('a text is shorter than what is marked in it'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER new_document_holds_its_turns AFTER INSERT ON gather_document
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_new_document_holds_its_turns();

CREATE FUNCTION cohortia_speaker_of_its_turns() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM gather_turn t JOIN gather_speaker s ON s.id = t.speaker_id
             WHERE t.speaker_id = NEW.id AND t.document_id <> s.document_id)
  THEN PERFORM cohortia_refuse('a turn and its speaker are of different documents'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER speaker_of_its_turns AFTER INSERT OR UPDATE OF document_id ON gather_speaker
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_speaker_of_its_turns();

-- A session keeps the way it found when a table was small, and would read a large one whole for each row.
DO $$
DECLARE one record;
BEGIN
  FOR one IN
    SELECT DISTINCT p.oid::regprocedure AS name FROM pg_proc p JOIN pg_trigger t ON t.tgfoid = p.oid
    WHERE p.proname LIKE 'cohortia\\_%' AND t.tgtype & 1 = 1
  LOOP EXECUTE format('ALTER FUNCTION %s SET enable_seqscan = off', one.name); END LOOP;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0005_values_by_variable")]
    operations = [migrations.RunSQL(RULES, migrations.RunSQL.noop)]
