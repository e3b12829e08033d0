"""What a pack costs, to the cent: money is never a float."""

import django.core.validators
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0015_cost_rates'),
    ]

    operations = [
        migrations.AlterField(
            model_name='ingredientprice',
            name='amount',
            field=models.DecimalField(
                decimal_places=2, max_digits=9, validators=[django.core.validators.MinValueValidator(0)]
            ),
        ),
    ]
