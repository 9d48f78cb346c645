import django.db.models.deletion
from django.db import migrations, models


def keep_one_a_turn(apps, schema_editor):
    """A turn asks one question: what was said by hand stays before what was matched, the first before others."""
    asked = apps.get_model('coding', 'AskedTurn')
    kept = set()
    for row in asked.objects.order_by('-by_hand', 'question__position', 'id'):
        if row.turn_id in kept:
            row.delete()
        kept.add(row.turn_id)


class Migration(migrations.Migration):

    dependencies = [('coding', '0011_guide')]

    operations = [
        migrations.RunPython(keep_one_a_turn, migrations.RunPython.noop),
        migrations.RemoveConstraint(model_name='askedturn', name='one_asking_a_turn'),
        migrations.AlterField(
            model_name='askedturn',
            name='question',
            field=models.ForeignKey(
                blank=True,
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name='asked',
                to='coding.guidequestion',
            ),
        ),
        migrations.AlterField(
            model_name='askedturn',
            name='turn',
            field=models.OneToOneField(
                on_delete=django.db.models.deletion.CASCADE, related_name='asked', to='gather.turn'
            ),
        ),
        migrations.AddConstraint(
            model_name='askedturn',
            constraint=models.CheckConstraint(
                condition=models.Q(('question__isnull', False), ('by_hand', True), _connector='OR'),
                name='only_hands_say_it_asks_nothing',
            ),
        ),
    ]
