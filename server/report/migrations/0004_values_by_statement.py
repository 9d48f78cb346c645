"""Values belong to cases, documents, variables and categories that are there: checked a statement at a time."""

from django.db import migrations

GUARDED = (("people_case", "case_id"), ("people_variable", "variable_id"), ("people_category", "category_id"),
           ("gather_document", "document_id"))  # fmt: skip

RULES = """
CREATE OR REPLACE FUNCTION cohortia_values_of_their_variables() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (
    SELECT 1 FROM fresh
    LEFT JOIN people_variable v ON v.id = fresh.variable_id
    LEFT JOIN people_case c ON c.id = fresh.case_id
    LEFT JOIN gather_document d ON d.id = fresh.document_id
    LEFT JOIN people_category g ON g.id = fresh.category_id
    WHERE v.id IS NULL OR v.definition IS NOT NULL
       OR (fresh.case_id IS NOT NULL) <> (v.of = 'case')
       OR (fresh.case_id IS NOT NULL AND c.project_id IS DISTINCT FROM v.project_id)
       OR (fresh.document_id IS NOT NULL AND d.project_id IS DISTINCT FROM v.project_id)
       OR (fresh.category_id IS NOT NULL AND g.variable_id IS DISTINCT FROM v.id)
  ) THEN PERFORM cohortia_refuse('a value doesn''t belong to its variable'); END IF;
  RETURN NULL;
END $$;
""" + "".join(
    f"""
CREATE FUNCTION cohortia_no_values_without_{table}() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM {table} t WHERE t.id = OLD.id)
     AND EXISTS (SELECT 1 FROM people_value v WHERE v.{column} = OLD.id)
  THEN PERFORM cohortia_refuse('values would be left without what they belong to'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER no_values_without_{table} AFTER DELETE ON {table}
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_no_values_without_{table}();
"""
    for table, column in GUARDED
)


class Migration(migrations.Migration):
    dependencies = [("report", "0003_rows_as_they_are"), ("people", "0004_alter_value_case_alter_value_category_and_more")]
    operations = [migrations.RunSQL(RULES, migrations.RunSQL.noop)]
