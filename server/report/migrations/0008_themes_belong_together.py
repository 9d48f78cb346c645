"""Themes, their codes and questions, and memos on anything: of one project. Codings are looked at a statement at a
time, so that merging codes with thousands of them is quick."""

from django.db import migrations

RULES = """
CREATE OR REPLACE FUNCTION cohortia_memo_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> coalesce(
    (SELECT d.project_id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE p.id = NEW.passage_id),
    (SELECT project_id FROM coding_code WHERE id = NEW.code_id),
    (SELECT project_id FROM coding_theme WHERE id = NEW.theme_id),
    (SELECT project_id FROM gather_document WHERE id = NEW.document_id),
    (SELECT project_id FROM people_case WHERE id = NEW.case_id),
    NEW.project_id)
  THEN PERFORM cohortia_refuse('a memo and what it is on are of different projects'); END IF;
  RETURN NULL;
END $$;

CREATE FUNCTION cohortia_theme_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> (SELECT project_id FROM coding_researchquestion WHERE id = NEW.question_id)
  THEN PERFORM cohortia_refuse('theme and question are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER theme_in_one_project AFTER INSERT OR UPDATE ON coding_theme
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_theme_in_one_project();

CREATE FUNCTION cohortia_placing_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM coding_theme WHERE id = NEW.theme_id)
     <> (SELECT project_id FROM coding_code WHERE id = NEW.code_id)
  THEN PERFORM cohortia_refuse('theme and code are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER placing_in_one_project AFTER INSERT OR UPDATE ON coding_themecode
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_placing_in_one_project();

DROP TRIGGER coding_in_one_project ON coding_coding;
DROP FUNCTION cohortia_coding_in_one_project;
CREATE FUNCTION cohortia_codings_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (
    SELECT 1 FROM fresh
    JOIN coding_code c ON c.id = fresh.code_id
    JOIN coding_passage p ON p.id = fresh.passage_id
    JOIN gather_document d ON d.id = p.document_id
    WHERE c.project_id <> d.project_id
  ) THEN PERFORM cohortia_refuse('code and passage are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER codings_in_one_project AFTER INSERT ON coding_coding
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codings_in_one_project();
CREATE TRIGGER codings_in_one_project_still AFTER UPDATE ON coding_coding
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codings_in_one_project();
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0007_memos_on_anything"), ("coding", "0004_themes_and_ratings")]
    operations = [migrations.RunSQL(RULES, migrations.RunSQL.noop)]
