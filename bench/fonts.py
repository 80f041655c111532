"""Makes the fonts of printed pages from the packages that `ui/package.json` names: `make fonts`. What it writes is kept in the project."""

from pathlib import Path
from tempfile import TemporaryDirectory

from fontTools.merge import Merger
from fontTools.subset import Subsetter
from fontTools.ttLib import TTFont

ROOT = Path(__file__).parents[1]
PACKAGES = ROOT / "ui/node_modules/@fontsource"
FONTS = ROOT / "gullpeak/files/fonts"
MADE = {
    "text": ("atkinson-hyperlegible-next", ("latin", "latin-ext"), 400),
    "text-bold": ("atkinson-hyperlegible-next", ("latin", "latin-ext"), 700),
    "name": ("fraunces", ("latin", "latin-ext", "vietnamese"), 600),
    "other": ("noto-sans", ("cyrillic", "cyrillic-ext", "greek", "greek-ext"), 400),
    "other-bold": ("noto-sans", ("cyrillic", "cyrillic-ext", "greek", "greek-ext"), 700),
    "signs": ("noto-sans-math", ("latin",), 400),
}
"""Each file: its package, the sets of letters joined in it, its weight."""
SIGNS = "←↑→↓⇒≈≠≤≥±×÷√∞∆Δµ"
"""All that is kept of the signs."""
UNUSED = ("GSUB", "GPOS", "GDEF", "DSIG", "STAT", "MVAR", "prep", "fpgm", "cvt ", "gasp")
"""Tables that a page printed with simple letters needs nothing of."""


def plain(package: str, letters: str, weight: int, into: Path) -> Path:
    """Write one set of letters as plain TrueType; return where."""
    font = TTFont(PACKAGES / package / "files" / f"{package}-{letters}-{weight}-normal.woff")
    font.flavor = None
    for table in UNUSED:
        if table in font:
            del font[table]
    for glyph in font["glyf"].glyphs.values():
        glyph.trim(remove_hinting=True)
    if package == "noto-sans-math":
        only = Subsetter()
        only.populate(text=SIGNS)
        only.subset(font)
    made = into / f"{package}-{letters}-{weight}.ttf"
    font.save(made)
    return made


def main() -> None:
    """Write every font of `MADE`, and their licences."""
    FONTS.mkdir(exist_ok=True)
    with TemporaryDirectory() as folder:
        for name, (package, sets, weight) in MADE.items():
            merged = Merger().merge([str(plain(package, letters, weight, Path(folder))) for letters in sets])
            merged["head"].created = merged["head"].modified = 0
            merged.recalcTimestamp = False
            merged.save(FONTS / f"{name}.ttf")
            print(name, f"{(FONTS / f'{name}.ttf').stat().st_size / 1024:.0f} kB, {len(merged.getBestCmap())} letters")
    for package in {package for package, _, _ in MADE.values()}:
        (FONTS / f"{package}-licence.txt").write_text((PACKAGES / package / "LICENSE").read_text())


if __name__ == "__main__":
    main()
