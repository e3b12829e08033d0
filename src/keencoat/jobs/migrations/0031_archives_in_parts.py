"""An archive that was brought in lies in parts: all of it in one row would fill the memory."""

import django.db.models.deletion
from django.db import migrations, models

PARTS = "INSERT INTO jobs_broughtpart (archive_id, data) SELECT id, data FROM jobs_broughtarchive WHERE data IS NOT NULL"


class Migration(migrations.Migration):

    dependencies = [('jobs', '0030_money_slips')]

    operations = [
        migrations.CreateModel(
            name='BroughtPart',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('data', models.BinaryField()),
                ('archive', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='parts', to='jobs.broughtarchive')),
            ],
            options={'ordering': ('id',)},
        ),
        migrations.RunSQL(PARTS, migrations.RunSQL.noop),
        migrations.RemoveField('broughtarchive', 'data'),
    ]
