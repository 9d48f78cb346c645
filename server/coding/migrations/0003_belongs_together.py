"""What belongs together across tables, and positions inside their text: refused by the database."""

from django.db import migrations

RULES = """
CREATE FUNCTION cohortia_refuse(sentence text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN RAISE EXCEPTION '%', sentence USING ERRCODE = 'integrity_constraint_violation'; END $$;

CREATE FUNCTION cohortia_coding_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT d.project_id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE p.id = NEW.passage_id)
     <> (SELECT project_id FROM coding_code WHERE id = NEW.code_id)
  THEN PERFORM cohortia_refuse('code and passage are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER coding_in_one_project AFTER INSERT OR UPDATE ON coding_coding
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_coding_in_one_project();

CREATE FUNCTION cohortia_code_beneath_own_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.parent_id IS NOT NULL AND NEW.project_id <> (SELECT project_id FROM coding_code WHERE id = NEW.parent_id)
  THEN PERFORM cohortia_refuse('a code lies beneath a code of another project'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER code_beneath_own_project AFTER INSERT OR UPDATE ON coding_code
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_code_beneath_own_project();

CREATE FUNCTION cohortia_passage_in_text() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW."end" > (SELECT length FROM gather_document WHERE id = NEW.document_id)
  THEN PERFORM cohortia_refuse('a passage reaches beyond its text'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER passage_in_text AFTER INSERT OR UPDATE ON coding_passage
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_passage_in_text();

CREATE FUNCTION cohortia_speaker_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.case_id IS NOT NULL AND (SELECT project_id FROM people_case WHERE id = NEW.case_id)
     <> (SELECT project_id FROM gather_document WHERE id = NEW.document_id)
  THEN PERFORM cohortia_refuse('speaker and case are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER speaker_in_one_project AFTER INSERT OR UPDATE ON gather_speaker
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_speaker_in_one_project();

CREATE FUNCTION cohortia_turn_of_its_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.document_id <> (SELECT document_id FROM gather_speaker WHERE id = NEW.speaker_id)
     OR NEW."end" > (SELECT length FROM gather_document WHERE id = NEW.document_id)
  THEN PERFORM cohortia_refuse('a turn and its speaker are of different documents'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER turn_of_its_document AFTER INSERT OR UPDATE ON gather_turn
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_turn_of_its_document();

CREATE FUNCTION cohortia_value_of_its_variable() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM people_case WHERE id = NEW.case_id)
     <> (SELECT project_id FROM people_variable WHERE id = NEW.variable_id)
     OR NEW.category_id IS NOT NULL
        AND NEW.variable_id <> (SELECT variable_id FROM people_category WHERE id = NEW.category_id)
  THEN PERFORM cohortia_refuse('a value doesn''t belong to its variable'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER value_of_its_variable AFTER INSERT OR UPDATE ON people_value
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_value_of_its_variable();
"""

BACK = """
DROP FUNCTION cohortia_coding_in_one_project, cohortia_code_beneath_own_project, cohortia_passage_in_text,
  cohortia_speaker_in_one_project, cohortia_turn_of_its_document, cohortia_value_of_its_variable CASCADE;
DROP FUNCTION cohortia_refuse;
"""


class Migration(migrations.Migration):
    dependencies = [("coding", "0002_initial"), ("gather", "0001_initial"), ("people", "0001_initial")]
    operations = [migrations.RunSQL(RULES, BACK)]
