"""Values of cases and documents, sections, picks and memos: what belongs together, refused by the database."""

from django.db import migrations

# Values come by the hundred thousand: one look at all of a statement's rows, not one a row.
RULES = """
DROP TRIGGER value_of_its_variable ON people_value;
DROP FUNCTION cohortia_value_of_its_variable;
CREATE FUNCTION cohortia_values_of_their_variables() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (
    SELECT 1 FROM fresh
    JOIN people_variable v ON v.id = fresh.variable_id
    LEFT JOIN people_case c ON c.id = fresh.case_id
    LEFT JOIN gather_document d ON d.id = fresh.document_id
    LEFT JOIN people_category g ON g.id = fresh.category_id
    WHERE v.definition IS NOT NULL
       OR (fresh.case_id IS NOT NULL) <> (v.of = 'case')
       OR c.project_id <> v.project_id OR d.project_id <> v.project_id
       OR g.variable_id <> v.id
  ) THEN PERFORM cohortia_refuse('a value doesn''t belong to its variable'); END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER values_of_their_variables AFTER INSERT ON people_value
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_values_of_their_variables();
CREATE TRIGGER values_of_their_variables_still AFTER UPDATE ON people_value
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_values_of_their_variables();

CREATE FUNCTION cohortia_section_in_text() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW."end" > (SELECT length FROM gather_document WHERE id = NEW.document_id)
  THEN PERFORM cohortia_refuse('a section reaches beyond its text'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER section_in_text AFTER INSERT OR UPDATE ON gather_section
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_section_in_text();

CREATE FUNCTION cohortia_document_holds_its_parts() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.length < OLD.length AND (
     EXISTS (SELECT 1 FROM coding_passage p WHERE p.document_id = NEW.id AND p."end" > NEW.length)
     OR EXISTS (SELECT 1 FROM gather_turn t WHERE t.document_id = NEW.id AND t."end" > NEW.length)
     OR EXISTS (SELECT 1 FROM gather_section s WHERE s.document_id = NEW.id AND s."end" > NEW.length))
  THEN PERFORM cohortia_refuse('a text became shorter than what is marked in it'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER document_holds_its_parts AFTER UPDATE ON gather_document
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_document_holds_its_parts();

CREATE FUNCTION cohortia_pick_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM people_case WHERE id = NEW.case_id)
     <> (SELECT project_id FROM people_cohort WHERE id = NEW.cohort_id)
  THEN PERFORM cohortia_refuse('cohort and case are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER pick_in_one_project AFTER INSERT OR UPDATE ON people_cohortcase
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_pick_in_one_project();

CREATE FUNCTION cohortia_memo_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.passage_id IS NOT NULL AND NEW.project_id <>
     (SELECT d.project_id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE p.id = NEW.passage_id)
  THEN PERFORM cohortia_refuse('memo and passage are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER memo_in_one_project AFTER INSERT OR UPDATE ON report_memo
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_memo_in_one_project();
"""


class Migration(migrations.Migration):
    dependencies = [
        ("report", "0001_initial"),
        ("coding", "0003_belongs_together"),
        ("people", "0003_cohort_cohortcase_and_more"),
        ("gather", "0003_medium_namepair_rememberedreading_section_and_more"),
    ]
    operations = [migrations.RunSQL(RULES, migrations.RunSQL.noop)]
