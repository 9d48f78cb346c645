"""A number is one that can be counted with: neither infinite nor none at all (NaN)."""

from django.db import migrations

FINITE = """
ALTER TABLE people_value ADD CONSTRAINT value_is_finite
  CHECK (number IS NULL OR (number > '-Infinity'::float8 AND number < 'Infinity'::float8));
"""


class Migration(migrations.Migration):
    dependencies = [("people", "0005_values_by_variable")]
    operations = [migrations.RunSQL(FINITE, "ALTER TABLE people_value DROP CONSTRAINT value_is_finite;")]
