"""What is refused at a field."""

from gullpeak.core.value import RefusalError, Said, as_said


class BadFieldError(RefusalError):
    """Something typed that cannot be read; `field` says where."""

    def __init__(self, field: str, says: Said | str) -> None:
        super().__init__(as_said(says), field)
