"""Artwork may be typed text."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0018_artwork_packs'),
    ]

    operations = [
        migrations.AlterField(
            model_name='artwork',
            name='kind',
            field=models.CharField(choices=[('picture', 'picture'), ('drawing', 'drawing'), ('names', 'names'), ('text', 'text')], max_length=8),
        ),
    ]
