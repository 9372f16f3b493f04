"""What went wrong, in one shape for all answers."""

from ..messages import Message


class Problem(Message):
    """An error: a stable code and a plain sentence that says what to do."""

    code: str
    sentence: str
