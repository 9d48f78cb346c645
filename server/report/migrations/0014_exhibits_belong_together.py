"""Pieces, exhibits, digests and what they are of are of one project: refused by the database otherwise."""

from django.db import migrations

RULES = """
CREATE FUNCTION cohortia_piece_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM report_exhibit WHERE id = NEW.exhibit_id)
     <> (SELECT d.project_id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE p.id = NEW.passage_id)
  THEN PERFORM cohortia_refuse('an exhibit and its passage are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER piece_in_one_project AFTER INSERT OR UPDATE ON report_exhibitpiece
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_piece_in_one_project();

CREATE FUNCTION cohortia_exhibit_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> (SELECT project_id FROM coding_researchquestion WHERE id = NEW.question_id)
  THEN PERFORM cohortia_refuse('an exhibit and its question are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER exhibit_in_one_project AFTER INSERT OR UPDATE ON report_exhibit
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_exhibit_in_one_project();

CREATE FUNCTION cohortia_digest_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> (SELECT project_id FROM people_case WHERE id = NEW.case_id)
     OR NEW.project_id <> coalesce(
       (SELECT project_id FROM coding_code WHERE id = NEW.code_id),
       (SELECT project_id FROM coding_theme WHERE id = NEW.theme_id))
  THEN PERFORM cohortia_refuse('a digest and what it is of are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER digest_in_one_project AFTER INSERT OR UPDATE ON report_digest
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_digest_in_one_project();
"""
NO_RULES = """
DROP TRIGGER piece_in_one_project ON report_exhibitpiece;
DROP TRIGGER exhibit_in_one_project ON report_exhibit;
DROP TRIGGER digest_in_one_project ON report_digest;
DROP FUNCTION cohortia_piece_in_one_project;
DROP FUNCTION cohortia_exhibit_in_one_project;
DROP FUNCTION cohortia_digest_in_one_project;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0013_exhibits_and_digests")]
    operations = [migrations.RunSQL(RULES, NO_RULES)]
