"""Orders: what is to be printed by whom, what an order still misses, and what a lab makes of it."""

from .order import KEY, LAB_STATES, MAY_CANCEL, Address, Order, OrderFile, OrderLine, list_missing

__all__ = ["KEY", "LAB_STATES", "MAY_CANCEL", "Address", "Order", "OrderFile", "OrderLine", "list_missing"]
