"""A frozen result and the kept comparison it was made from are of one project: refused by the database otherwise."""

from django.db import migrations

FROZEN = """
CREATE FUNCTION cohortia_frozen_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.project_id <> (SELECT project_id FROM compare_keptcomparison WHERE id = NEW.comparison_id)
  THEN PERFORM cohortia_refuse('a frozen result and its comparison are of different projects'); END IF;
  RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER frozen_in_one_project AFTER INSERT OR UPDATE ON compare_frozenresult
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION cohortia_frozen_in_one_project();
"""
NOT_FROZEN = """
DROP TRIGGER frozen_in_one_project ON compare_frozenresult;
DROP FUNCTION cohortia_frozen_in_one_project;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0011_comparisons_belong_together"), ("compare", "0002_saved_and_frozen")]
    operations = [migrations.RunSQL(FROZEN, NOT_FROZEN)]
