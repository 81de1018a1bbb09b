"""What all shapes of the API have in common. Times are UTC epoch seconds; MAC addresses are spelled with dashes."""

from pydantic import BaseModel, ConfigDict


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
