"""Memos, their kinds and what they speak of are of one project: refused by the database otherwise."""

from django.db import migrations

RULES = """
CREATE FUNCTION cohortia_memo_kind_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM report_memo WHERE id = NEW.memo_id)
     <> (SELECT project_id FROM report_ownmemokind WHERE id = NEW.own_id)
  THEN PERFORM cohortia_refuse('a memo and its kind are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER memo_kind_in_one_project AFTER INSERT OR UPDATE ON report_memoofkind
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_memo_kind_in_one_project();

CREATE FUNCTION cohortia_memo_link_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (SELECT project_id FROM report_memo WHERE id = NEW.memo_id) <> coalesce(
       (SELECT project_id FROM coding_code WHERE id = NEW.code_id),
       (SELECT project_id FROM coding_theme WHERE id = NEW.theme_id),
       (SELECT project_id FROM gather_document WHERE id = NEW.document_id),
       (SELECT project_id FROM people_case WHERE id = NEW.case_id),
       (SELECT project_id FROM compare_keptcomparison WHERE id = NEW.comparison_id),
       (SELECT project_id FROM report_memo WHERE id = NEW.other_id))
  THEN PERFORM cohortia_refuse('a memo and what it speaks of are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER memo_link_in_one_project AFTER INSERT OR UPDATE ON report_memolink
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_memo_link_in_one_project();
"""
NO_RULES = """
DROP TRIGGER memo_kind_in_one_project ON report_memoofkind;
DROP TRIGGER memo_link_in_one_project ON report_memolink;
DROP FUNCTION cohortia_memo_kind_in_one_project;
DROP FUNCTION cohortia_memo_link_in_one_project;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0015_kinds_and_links_of_memos")]
    operations = [migrations.RunSQL(RULES, NO_RULES)]
