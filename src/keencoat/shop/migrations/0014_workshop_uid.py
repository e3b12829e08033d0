"""What a workshop is known by elsewhere."""

import uuid

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("shop", "0013_stripe_tests"),
    ]

    operations = [
        migrations.AddField("workshop", "uid", models.UUIDField(null=True, editable=False)),
        # Each its own: a default is worked out once for all rows.
        migrations.RunSQL("UPDATE shop_workshop SET uid = gen_random_uuid()", migrations.RunSQL.noop),
        migrations.AlterField("workshop", "uid", models.UUIDField(default=uuid.uuid4, editable=False)),
    ]
