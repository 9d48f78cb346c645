"""A large sheet takes six million numbers for its values: a session takes a thousand at once. Numbers in between may stay unused."""

from django.db import migrations

CACHED = """DO $$ BEGIN
  EXECUTE format('ALTER SEQUENCE %s CACHE {}', pg_get_serial_sequence('people_value', 'id'));
END $$"""


class Migration(migrations.Migration):
    dependencies = [("people", "0007_cohorts_of_documents")]
    operations = [migrations.RunSQL(CACHED.format(1000), CACHED.format(1))]
