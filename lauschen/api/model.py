"""What all shapes of the API have in common. Times are UTC epoch seconds; MAC addresses are spelled with dashes."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

LARGEST = 2**53 - 1
"""What every reader of JSON holds exactly (RFC 8259 section 6), and the database too."""
AnyId = Annotated[int, Field(ge=0, le=LARGEST)]
Whole = Annotated[int, Field(ge=-LARGEST, le=LARGEST)]
"""Of what its act says the bounds of in words."""


class Model(BaseModel):
    """Refuses fields that it does not know, so that a typo is said and not ignored."""

    model_config = ConfigDict(extra="forbid")


class Problem(BaseModel):
    """RFC 9457 problem details."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    field: str | None = None
