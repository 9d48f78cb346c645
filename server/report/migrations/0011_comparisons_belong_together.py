"""A kept comparison, its research question and the memos on it are of one project: refused by the database otherwise."""

from django.db import migrations

MEMO = """
CREATE OR REPLACE FUNCTION cohortia_memo_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> coalesce(
    (SELECT d.project_id FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE p.id = NEW.passage_id),
    (SELECT project_id FROM coding_code WHERE id = NEW.code_id),
    (SELECT project_id FROM coding_theme WHERE id = NEW.theme_id),
    (SELECT project_id FROM gather_document WHERE id = NEW.document_id),
    (SELECT project_id FROM people_case WHERE id = NEW.case_id),
    {comparison}NEW.project_id)
  THEN PERFORM cohortia_refuse('a memo and what it is on are of different projects'); END IF;
  RETURN NULL;
END $$;
"""
ON_COMPARISON = "(SELECT project_id FROM compare_keptcomparison WHERE id = NEW.comparison_id),\n    "

KEPT = """
CREATE FUNCTION cohortia_kept_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> (SELECT project_id FROM coding_researchquestion WHERE id = NEW.question_id)
  THEN PERFORM cohortia_refuse('comparison and question are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER kept_in_one_project AFTER INSERT OR UPDATE ON compare_keptcomparison
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_kept_in_one_project();
"""
NOT_KEPT = """
DROP TRIGGER kept_in_one_project ON compare_keptcomparison;
DROP FUNCTION cohortia_kept_in_one_project;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0010_memos_on_comparisons"), ("compare", "0001_initial")]
    operations = [
        migrations.RunSQL(
            MEMO.replace("{comparison}", ON_COMPARISON) + KEPT, MEMO.replace("{comparison}", "") + NOT_KEPT
        )
    ]
