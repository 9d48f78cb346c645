"""The ways back of the trail are kept as they are written, pressed by the quicker of the two methods where the database has it."""

from django.db import migrations

from server.common.in_json import AsWritten, InJson

QUICKLY = """
DO $$ BEGIN
  ALTER TABLE projects_trailentry ALTER COLUMN inverse SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported THEN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("projects", "0011_telling_of_what_is_touched")]
    operations = [
        migrations.AlterField(
            model_name="trailentry",
            name="inverse",
            field=AsWritten(default=list, encoder=InJson),
        ),
        migrations.RunSQL(QUICKLY, migrations.RunSQL.noop),
    ]
