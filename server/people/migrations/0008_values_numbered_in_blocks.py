"""A large sheet needs six million numbers for its values. Asked for one by one they take seconds; here a whole block is one's own at
once, far above those that are given one by one."""

from django.db import migrations

MAKE = "CREATE SEQUENCE people_value_blocks START WITH 1099511627776 INCREMENT BY 1000000"


class Migration(migrations.Migration):
    dependencies = [("people", "0007_cohorts_of_documents")]
    operations = [migrations.RunSQL(MAKE, "DROP SEQUENCE people_value_blocks")]
