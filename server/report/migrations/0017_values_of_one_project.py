"""Values of one statement belong to one project nearly always: then their people are looked up in one join, not in two, which was a
sixth of the time in which a large sheet comes in."""

from django.db import migrations

STATEMENT = """
CREATE OR REPLACE FUNCTION cohortia_values_of_their_variables() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  wrong boolean;
  of_cases bigint;
  first_project bigint;
  last_project bigint;
  belonging bigint;
BEGIN
  SELECT
    bool_or(
      v.id IS NULL OR v.definition IS NOT NULL
      OR of_case <> (v.of = 'case')
      OR (kinds.document_id IS NOT NULL AND d.project_id IS DISTINCT FROM v.project_id)
      OR (kinds.category_id IS NOT NULL AND g.variable_id IS DISTINCT FROM v.id)
    ),
    sum(many) FILTER (WHERE of_case), min(v.project_id) FILTER (WHERE of_case), max(v.project_id) FILTER (WHERE of_case)
  INTO wrong, of_cases, first_project, last_project
  FROM (
    SELECT variable_id, category_id, document_id, case_id IS NOT NULL AS of_case, count(*) AS many FROM fresh GROUP BY 1, 2, 3, 4
  ) AS kinds
  LEFT JOIN people_variable v ON v.id = kinds.variable_id
  LEFT JOIN people_category g ON g.id = kinds.category_id
  LEFT JOIN gather_document d ON d.id = kinds.document_id;
  IF NOT wrong AND of_cases > 0 THEN
    IF first_project = last_project THEN
      SELECT count(*) INTO belonging FROM fresh JOIN people_case c ON c.id = fresh.case_id WHERE c.project_id = first_project;
    ELSE
      SELECT count(*) INTO belonging FROM fresh
      JOIN people_case c ON c.id = fresh.case_id
      JOIN people_variable v ON v.id = fresh.variable_id AND v.project_id = c.project_id;
    END IF;
    wrong := belonging <> of_cases;
  END IF;
  IF wrong THEN PERFORM cohortia_refuse('a value doesn''t belong to its variable'); END IF;
  RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0016_memos_belong_together")]

    operations = [migrations.RunSQL(STATEMENT, migrations.RunSQL.noop)]
