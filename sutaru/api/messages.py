"""What requests and answers are made of."""

import warnings

from pydantic import BaseModel, ConfigDict
from pydantic.warnings import UnsupportedFieldAttributeWarning

# FastAPI gives bodies an alias that pydantic has no use for, and silences this itself where checks are built at once.
warnings.filterwarnings("ignore", "The 'alias' attribute", UnsupportedFieldAttributeWarning)


class Message(BaseModel):
    """Base of every request's body and every answer. What checks it is built when it is first used: a server starts sooner."""

    model_config = ConfigDict(defer_build=True)
