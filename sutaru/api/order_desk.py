"""The desk from which orders go to the lab: each sent by a thread, once, asked after, and cancelled while that can be."""

import logging
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

from ..core.errors import EditRefused, Stopped
from ..core.ordering import MAY_CANCEL
from ..store.orders import MOVING, UNSENT, Ordered, Orders
from ..work.answers import Standing
from ..work.dropping import line_to
from ..work.sending import NotSent
from .events import Events

log = logging.getLogger("sutaru.desk")
LAB_ADDRESS = "http://127.0.0.1:8766"  # where the lab that stands in listens, unless another is named
PRINTER_ADDRESS = "http://127.0.0.1:8767"  # and the printer
FRESH_S = 2.0  # a lab is not asked more often


class Desk:
    """Sends orders, one thread each, and asks the lab how they stand."""

    def __init__(self, address: str, orders: Orders, events: Events) -> None:
        """``address``: where the lab is. ``orders``: where it is written down how each stands; ``events`` tells everybody."""
        self.address, self._orders, self._events = address, orders, events
        self._threads = ThreadPoolExecutor(2, "orders")
        self._lock = threading.Lock()
        self._asked: dict[str, float] = {}
        self.sending: dict[str, tuple[int, int]] = {}
        self._cancelled: set[str] = set()  # while they were on their way
        self._closed = False
        self._away_until = 0.0  # a lab that does not answer is not asked by each order in turn

    def send(self, order: Ordered) -> None:
        """Begins to send an order, unless it is on its way."""
        with self._lock:
            if order.id in self.sending:
                return
            self.sending[order.id] = (0, 1)
        self._threads.submit(self._send, order)

    def _send(self, order: Ordered) -> None:
        try:
            with closing(line_to(self.address)) as line:
                standing = line.send(
                    order.order, self._orders.file, lambda name, index, of: self._tell(order, index, of),
                    lambda lab_order: self._orders.set_lab_order(order.id, lab_order),
                )  # fmt: skip
            self._keep(order.id, standing)
        except Stopped:
            self._orders.set_standing(order.id, "unsent", UNSENT)
        except NotSent as error:
            self._orders.set_standing(order.id, "unsent", str(error))
        except Exception:
            log.exception("an order was not sent")
            self._orders.set_standing(
                order.id, "unsent", "It was not sent, for a reason that nobody foresaw. Send it again."
            )
        finally:
            with self._lock:
                self.sending.pop(order.id, None)
                cancelled = order.id in self._cancelled
                self._cancelled.discard(order.id)
            if cancelled:
                self._cancel_quietly(order.id)
            self._events.say("order", order.id)

    def _keep(self, identity: str, standing: Standing) -> Ordered:
        reasons = [reason.model_dump() for reason in standing.reasons]
        return self._orders.set_standing(
            identity,
            standing.state,
            reasons=reasons,
            lab_order=standing.id,
            price=standing.price,
            currency=standing.currency,
        )

    def _tell(self, order: Ordered, index: int, of: int) -> None:
        if self._closed or order.id in self._cancelled:
            raise Stopped("The application was closed.")
        before = self.sending.get(order.id)
        self.sending[order.id] = (index, of)
        if before is None or index - before[0] > of / 20:
            self._events.say("order", order.id)

    def cancel(self, identity: str) -> Ordered:
        """Cancels an order that is not sent yet, or that the lab has not begun; one on its way once it has stopped.

        Raises EditRefused when the lab has begun it, and NotSent when it does not answer.
        """
        with self._lock:
            if identity in self.sending:
                self._cancelled.add(identity)
                return self._orders.get(identity)
        return self._cancel(self._orders.get(identity))

    def _cancel(self, order: Ordered) -> Ordered:
        if order.state == "cancelled":
            return order
        if order.state not in (*MAY_CANCEL, "unsent", "open"):
            raise EditRefused("The lab has begun this order, or has ended it.", "Ring the lab up.")
        if order.lab_order:  # what the lab never opened it cannot print: only a submitted order is printed
            with closing(line_to(self.address)) as line:
                standing = line.cancel(order.lab_order)
            if standing.state != "cancelled":
                self._keep(order.id, standing)
                raise EditRefused("The lab has not cancelled this order.", "Ring the lab up.")
        cancelled = self._orders.set_standing(order.id, "cancelled")
        self._events.say("order", order.id)
        return cancelled

    def _cancel_quietly(self, identity: str) -> None:
        try:
            self._cancel(self._orders.get(identity))
        except (EditRefused, NotSent) as error:
            order = self._orders.get(identity)
            message = f"It was not cancelled. {error}"
            self._orders.set_standing(identity, order.state, message, order.reasons)

    def ask_lab(self, order: Ordered) -> Ordered:
        """An order as it stands now, by the lab where it can be reached."""
        with self._lock:
            if (
                order.state not in MOVING
                or time.monotonic() < self._away_until
                or time.monotonic() - self._asked.get(order.id, -9.0) < FRESH_S
            ):
                return order
            self._asked[order.id] = time.monotonic()
        with closing(line_to(self.address)) as line:
            try:
                standing = line.ask_standing(order.lab_order, 1.5)
            except NotSent:  # it stands as it was told last
                self._away_until = time.monotonic() + FRESH_S
                return order
        return self._keep(order.id, standing) if standing.state != order.state else order

    def close(self) -> None:
        """Ends the threads, each at its next piece; what is on its way is said to be unsent at the next start."""
        self._closed = True
        self._threads.shutdown(wait=False, cancel_futures=True)
