"""Days as a kitchen writes them: by its language, and by its paper where English differs. Times are on the 24-hour clock."""

from datetime import date, datetime

from gullpeak.core.words.reader import ENGLISH, Reader


def day(of: date, reader: Reader = ENGLISH) -> str:
    """Return a day in full.

    >>> from gullpeak.core.words.reader import Reader
    >>> day(date(2026, 6, 20)), day(date(2026, 6, 20), Reader(paper="Letter")), day(date(2026, 6, 20), Reader(language="it"))
    ('20 June 2026', 'June 20, 2026', '20 giugno 2026')
    """
    from babel.dates import format_date  # only once a day is written: it takes a tenth of a second to load

    return format_date(of, "long", locale=_locale(reader))


def weekday(of: date, reader: Reader = ENGLISH) -> str:
    """Return a day in full with its day of the week.

    >>> weekday(date(2026, 6, 20))
    'Saturday, 20 June 2026'
    """
    from babel.dates import format_date

    return format_date(of, "full", locale=_locale(reader))


def moment(at: datetime, reader: Reader = ENGLISH) -> str:
    """Return a short day and its time, as on a label.

    >>> moment(datetime(2026, 6, 20, 14, 5))
    'Sat, 20 Jun 2026, 14:05'
    """
    from babel.dates import format_skeleton

    return f"{format_skeleton('yMMMEd', at, locale=_locale(reader))}, {at:%H:%M}"


def _locale(reader: Reader) -> str:
    if reader.language != ENGLISH.language:
        return reader.language
    return "en_US" if reader.paper == "Letter" else "en_GB"
