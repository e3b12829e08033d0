"""All pieces of an artwork in one file."""

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0017_artwork_versions'),
    ]

    operations = [
        migrations.CreateModel(
            name='ArtworkPack',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('version', models.PositiveIntegerField()),
                ('lock_version', models.PositiveIntegerField()),
                ('spec', keencoat.shop.stored_field.StoredField('artwork-spec')),
                ('kind', models.CharField(choices=[('pdf', 'a proof on paper'), ('zip', 'PNG and G-code of every piece')], max_length=4)),
                ('state', models.CharField(max_length=8)),
                ('wanted', models.CharField(blank=True, max_length=8)),
                ('pieces', models.PositiveIntegerField()),
                ('pieces_done', models.PositiveIntegerField(default=0)),
                ('trouble', models.CharField(blank=True, max_length=300)),
                ('asked_at', models.DateTimeField()),
                ('beat_at', models.DateTimeField(null=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('data', models.BinaryField(null=True)),
                ('artwork', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='packs', to='jobs.artwork')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
    ]
