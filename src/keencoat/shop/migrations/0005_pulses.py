from django.db import migrations, models


def usual(apps, schema_editor):
    """Blue and CO₂ beams usually come out steadily; of near-infrared ones nobody said."""
    apps.get_model("shop", "Machine").objects.exclude(source="near_infrared").update(pulsing="continuous")


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0004_own_spot'),
    ]

    operations = [
        migrations.AddField(
            model_name='machine',
            name='pulse_mj',
            field=models.FloatField(null=True),
        ),
        migrations.AddField(
            model_name='machine',
            name='pulse_rate_khz',
            field=models.FloatField(null=True),
        ),
        migrations.AddField(
            model_name='machine',
            name='pulsing',
            field=models.CharField(choices=[('continuous', 'continuous'), ('pulsed', 'pulsed'), ('unknown', 'unknown')], default='unknown', max_length=10),
        ),
        migrations.RunPython(usual, migrations.RunPython.noop),
    ]
