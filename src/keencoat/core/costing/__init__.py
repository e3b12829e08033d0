"""What things cost.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.costing.prices import Price, cost_of, price_of

__all__ = [
    "Price",
    "cost_of",
    "price_of",
]
