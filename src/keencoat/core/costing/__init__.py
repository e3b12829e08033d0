"""What things cost.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.costing.batch_cost import (
    LEAST_SHARE,
    BatchCost,
    CostKind,
    CostLine,
    MoneyRange,
    Order,
    PieceWork,
    Rates,
    cost_counted,
    cost_of_batch,
    cost_of_tests,
    earned_an_hour,
    money,
    price_by_margin,
    price_by_wage,
    spent_on,
)
from keencoat.core.costing.prices import Price, cost_of, price_of
from keencoat.core.costing.slip import Slip, SlipKind

__all__ = [
    "LEAST_SHARE",
    "BatchCost",
    "CostKind",
    "CostLine",
    "MoneyRange",
    "Order",
    "PieceWork",
    "Price",
    "Rates",
    "Slip",
    "SlipKind",
    "cost_counted",
    "cost_of",
    "cost_of_batch",
    "cost_of_tests",
    "earned_an_hour",
    "money",
    "price_by_margin",
    "price_by_wage",
    "price_of",
    "spent_on",
]
