"""Orders: what is to be printed by whom, what an order still misses, and what a lab makes of it."""

from .order import LAB_STATES, Address, Order, OrderFile, OrderLine, missing

__all__ = ["LAB_STATES", "Address", "Order", "OrderFile", "OrderLine", "missing"]
