"""What is refused at a field."""

from gullpeak.core.value import RefusalError, Said


class BadFieldError(RefusalError):
    """Something typed that cannot be read; `field` says where."""

    def __init__(self, field: str, says: Said) -> None:
        super().__init__(says, field)
