"""A key keeps the whole answer. Old keys are forgotten: they name rows of seven kinds, and hold for a week only."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [('shop', '0017_letterhead')]

    operations = [
        migrations.RunSQL('DELETE FROM shop_deed', migrations.RunSQL.noop),
        migrations.RemoveField('deed', 'what'),
        migrations.RemoveField('deed', 'row_id'),
        migrations.AddField('deed', 'asked', models.CharField(max_length=64, default=''), preserve_default=False),
        migrations.AddField('deed', 'status', models.PositiveSmallIntegerField(default=0)),
        migrations.AddField('deed', 'answer', models.BinaryField(default=b'')),
    ]
