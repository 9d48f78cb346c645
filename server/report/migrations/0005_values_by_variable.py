"""Values by variable: what each must belong to is asked once for each different variable and category of a
statement, and whether one is left without its case by way of the project's variables, which are indexed."""

from django.db import migrations

RULES = """
CREATE OR REPLACE FUNCTION cohortia_values_of_their_variables() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (
    SELECT 1 FROM (
      SELECT variable_id, category_id, document_id, case_id IS NOT NULL AS of_case FROM fresh GROUP BY 1, 2, 3, 4
    ) AS kinds
    LEFT JOIN people_variable v ON v.id = kinds.variable_id
    LEFT JOIN people_category g ON g.id = kinds.category_id
    LEFT JOIN gather_document d ON d.id = kinds.document_id
    WHERE v.id IS NULL OR v.definition IS NOT NULL
       OR of_case <> (v.of = 'case')
       OR (kinds.document_id IS NOT NULL AND d.project_id IS DISTINCT FROM v.project_id)
       OR (kinds.category_id IS NOT NULL AND g.variable_id IS DISTINCT FROM v.id)
  ) OR (
    SELECT count(*) FROM fresh WHERE case_id IS NOT NULL
  ) <> (
    SELECT count(*) FROM fresh
    JOIN people_case c ON c.id = fresh.case_id
    JOIN people_variable v ON v.id = fresh.variable_id AND v.project_id = c.project_id
  ) THEN PERFORM cohortia_refuse('a value doesn''t belong to its variable'); END IF;
  RETURN NULL;
END $$;

-- Keys are taken a thousand at a time: one look at the sequence for each value cost as much as the value.
ALTER SEQUENCE people_value_id_seq CACHE 1000;

CREATE OR REPLACE FUNCTION cohortia_no_values_without_people_case() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM people_case t WHERE t.id = OLD.id) AND EXISTS (
    SELECT 1 FROM people_variable v
    JOIN people_value held ON held.variable_id = v.id AND held.case_id = OLD.id
    WHERE v.project_id = OLD.project_id
  ) THEN PERFORM cohortia_refuse('values would be left without what they belong to'); END IF;
  RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0004_values_by_statement"), ("people", "0005_values_by_variable")]
    operations = [migrations.RunSQL(RULES, migrations.RunSQL.noop)]
