"""A cook's text read: what each way of writing comes to, that nothing is lost or guessed, and that it is the same read again."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench.reading.report import HABITS, cases, score
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.kitchen.own import OwnIngredient
from gullpeak.core.product.builds import STARTED
from gullpeak.core.product.find import Findable, holds, sought
from gullpeak.core.reading import measures
from gullpeak.core.reading.model import MOST_TEXT, ReadRecipe, ReadText
from gullpeak.core.reading.names import names
from gullpeak.core.reading.questions import Answered
from gullpeak.core.reading.read import read
from gullpeak.core.reading.text import cut
from gullpeak.core.reading.together import product_kind
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.words import book as words
from gullpeak.files import plain
from tests.words import en

CASES = {case.name: case for half in ("worked", "kept", "later", "again") for case in cases(half)}
TEXTS = sorted(case.text for case in CASES.values())
WHITES = "4 egg whites\n"


def only(text: str, habits: Habits | None = None) -> ReadRecipe:
    (recipe,) = read(text, habits or Habits()).recipes
    return recipe


def line(text: str, key: str) -> tuple[float | None, float | None, float | None, str]:
    """What a line read beside four whites comes to: grams, least, most, status."""
    found = next(x for x in only(f"{WHITES}{text}").lines if x.ingredient == key)
    return found.grams, found.low, found.high, found.status


@pytest.mark.parametrize(
    ("text", "key", "grams"),
    [
        ("½ tsp vinegar", "vinegar", 2.55),
        ("1 1/2 cups caster sugar", "caster", 330),
        ("220g/8oz caster sugar", "caster", 220),
        ("1 lb 2 oz sugar", "granulated", 510.3),
        ("3/4 cup plus 2 tablespoons sugar", "granulated", 186),
        ("200 g caster sugar + 1 level tbsp", "caster", 213.2),
        ("2 x 250g packs butter", "butter", 500),
        ("half a pound of loaf sugar", "granulated", 226.8),
        ("a pound and a half of caster sugar", "caster", 680.4),
        ("two hundred and fifty grams caster", "caster", 250),
        ("Sugar: 200 g", "granulated", 200),
        ("caster sugar ..... 330 g", "caster", 330),
        ("juice of 4 limes", "lime-juice", 120),
        ("juice of half a lemon", "lemon-juice", 22.5),
        ("4 unwaxed lemons, zest and juice", "lemon-zest", 24),
        ("zest and juice of an orange", "orange-juice", 80),
        ("the juice of three oranges and the grated rind of one", "orange-zest", 8),
        ("1 stick unsalted butter", "butter", 113.4),
        ("3 rounded tsp cornflour", "cornflour", 10.53),
        ("240 sug", "granulated", 240),
        ("8 oz castor suger", "caster", 226.8),
        ("60 ml boiling water", "water", 60),
        ("6 passion fruit", "passion-fruit", 108),
        ("1 pt double cream", "cream", 574),
        ("1 dsp golden syrup", "golden-syrup", 14.2),
    ],
)
def test_an_amount_is_read_as_it_is_written(text: str, key: str, grams: float):
    found = next(x for recipe in read(f"{WHITES}{text}", Habits()).recipes for x in recipe.lines if x.ingredient == key)
    assert (found.grams, found.status) == (pytest.approx(grams, rel=0.01), "read")


@pytest.mark.parametrize(
    ("text", "key", "low", "high"),
    [
        ("2 tbsp icing sugar", "icing", 15.6, 25),
        ("2–3 tbsp cornflour", "cornflour", 16.2, 38.9),
        ("a glass of white wine", "white-wine", 100, 150),
        ("2 pots double cream", "cream", 300, 600),
        ("1 punnet raspberries", "raspberry", 125, 250),
    ],
)
def test_words_that_leave_a_range_are_asked_about(text: str, key: str, low: float, high: float):
    found = next(x for recipe in read(f"{WHITES}{text}", Habits()).recipes for x in recipe.lines if x.ingredient == key)
    assert (found.grams, found.status) == (None, "asked")
    assert (found.low, found.high) == (pytest.approx(low, rel=0.02), pytest.approx(high, rel=0.02))


@pytest.mark.parametrize(
    "word", ["a knob of", "a splash of", "some", "a handful of", "a good glug of", "a drizzle of", "a little"]
)
def test_what_nobody_can_know_stays_unknown_with_its_words(word: str):
    recipe = only(f"{WHITES}200 g caster sugar\n{word} rum")
    found = next(x for x in recipe.lines if x.ingredient == "spirit")
    assert (found.grams, found.status, found.written) == (None, "unknown", f"{word} rum")
    assert recipe.recipe is not None
    assert next(x.written for x in recipe.recipe.lines if x.ingredient == "spirit") == word


@pytest.mark.parametrize(
    ("text", "moment"),
    [
        ("Whisk to soft peaks, then add the sugar a spoonful at a time.", "soft"),
        ("Whisk till frothy, then rain in the sugar.", "froth"),
        ("Whisk until stiff and fold in the sugar.", "folded last"),
        ("Add the sugar just under soft peaks.", "soft"),
        ("The sugar goes in once the whites are stiff.", "stiff"),
        ("Everything in the bowl, whisk ten minutes.", "start"),
    ],
)
def test_what_is_done_says_when_something_goes_in(text: str, moment: str):
    recipe = only(f"{WHITES}220 g caster sugar\n\n{text}")
    assert next(x.moment for x in recipe.lines if x.ingredient == "caster") == moment


@pytest.mark.parametrize(
    ("text", "oven"),
    [
        ("Fan 100C, 1 hour 15", [(100, True, 75, "shut")]),
        ("Bake at gas 3 for an hour", [(160, False, 60, "shut")]),
        ("Bake at 325 F for 20 minutes", [(162.8, False, 20, "shut")]),
        ("180C/160C fan/gas 4 for 15 mins", [(180, False, 15, "shut")]),
        ("120C/100C fan for 1 hr", [(120, False, 60, "shut")]),
        ("2 hours at 90", [(90, False, 120, "shut")]),
        ("150C for 50 minutes, then down to 105 for 40 more", [(150, False, 50, "shut"), (105, False, 40, "shut")]),
        ("Bake at 110 for an hour, leave till cold, door ajar", [(110, False, 60, "shut"), (None, False, None, "ajar")]),
        ("Fan 95 for 2 hours, then off with the door ajar for 45 minutes", [(95, True, 120, "shut"), (None, False, 45, "ajar")]),
        ("Dry in a low oven, 95 on the fan, for two hours", [(95, True, 120, "shut")]),
        ("Bake in a very slow oven for two hours", [(None, False, 120, "shut")]),
        ("Bake at 100 for 90 min, never above 110", [(100, False, 90, "shut")]),
    ],
)
def test_an_oven_is_read_step_by_step(text: str, oven: list[tuple]):
    recipe = only(f"{WHITES}220 g caster sugar\n8 cm nests\n{text}")
    assert [(s.set_c and pytest.approx(s.set_c, abs=0.1), s.fan, s.minutes, s.door) for s in recipe.oven] == oven


def test_the_kitchens_own_air_decides_between_two_figures_for_one_heat():
    recipe = only(f"{WHITES}220 g caster sugar\n8 cm nests\n180C/160C fan for 15 min", Habits(no_fan_word="fan"))
    assert [(s.set_c, s.fan, s.minutes) for s in recipe.oven] == [(160, True, 15)]


@pytest.mark.parametrize(
    ("text", "target"),
    [
        ("boil the sugar with 70 g water until 119", (119, 119)),
        ("boil the sugar with 70 g water to firm ball", (117, 121)),
        ("over simmering water to 68", (68, 68)),
        ("warm over a bath to 140F", (60, 60)),
        ("boil the sugar, start the whites past 110, pour at 118", (118, 118)),
    ],
)
def test_a_heat_to_be_reached_is_read(text: str, target: tuple[float, float]):
    assert only(f"{WHITES}220 g caster sugar\n{text}").target_c == target


def test_a_warning_is_no_target():
    recipe = only("3 yolks, 60 g sugar, 60 ml sherry, whisked over hot water. It scrambles past 85.")
    assert recipe.target_c is None


@pytest.mark.parametrize(
    ("text", "shape"),
    [
        ("38 × 30 cm", ("slab", {"length_mm": 380, "width_mm": 300})),
        ("pipe 8 cm nests, 3 cm high", ("nest", {"diameter_mm": 80, "height_mm": 30})),
        ("a 22 cm round with a hollow", ("bowl", {"diameter_mm": 220})),
        ("9-inch circle", ("disc", {"diameter_mm": 228.6})),
        ("makes 2 x 20 cm discs", ("disc", {"diameter_mm": 200})),
        ("slab 30 x 20 cm, 2 cm thick", ("slab", {"length_mm": 300, "width_mm": 200, "height_mm": 20})),
    ],
)
def test_a_shape_is_read_with_its_lengths(text: str, shape: tuple[str, dict[str, float]]):
    found = only(f"{WHITES}220 g caster sugar\n{text}\n100 fan 90 min").shape
    assert found is not None
    assert found.kind == shape[0]
    assert {name: getattr(found, name) for name in shape[1]} == pytest.approx(shape[1])


def test_small_pieces_of_which_only_the_size_is_said_are_asked_about():
    text = f"{WHITES}220 g caster sugar\n4 cm across\n90 fan for 90 min"
    found = read(text, Habits())
    question = next(q for q in found.questions if q.written == "4 cm")
    assert [a.key for a in question.answers] == ["shape:kiss", "shape:nest", "shape:disc"]
    assert found.recipes[0].shape is None
    answered = read(text, Habits(), answers=[Answered(written="4 cm", key="shape:kiss")])
    shape = answered.recipes[0].shape
    assert shape is not None
    assert (shape.kind, shape.diameter_mm) == ("kiss", 40)


@pytest.mark.parametrize(
    ("text", "pieces", "portions"),
    [
        ("Nests, makes 12", 12, None),
        ("Kisses (about 40 servings)", None, 40),
        ("Rings x 20", 20, None),
        ("Pavlova for 8", 1, 8),
        ("Kisses, makes a couple of dozen", 24, None),
    ],
)
def test_how_many_is_read_in_the_title(text: str, pieces: int | None, portions: int | None):
    recipe = only(f"{text}\n{WHITES}220 g caster sugar\n100 fan 90 min")
    assert (recipe.pieces, recipe.portions) == (pieces, portions)


@pytest.mark.parametrize("case", [c for c in CASES.values() if c.name not in ("old-book-rice",)], ids=lambda case: case.name)
def test_of_what_the_corpus_means_nothing_is_taken_wrongly(case):
    wrong = [what for how, what in score(case, read(case.text, HABITS[case.habits])) if how == "wrong"]
    assert not wrong


@pytest.mark.parametrize(
    ("text", "recipes", "kind"),
    [
        ("Supper", ("nests",), None),
        ("Lemon pie", ("tartlet-cases", "curd", "topping"), "pie"),
        ("Supper", ("tartlet-cases", "curd", "topping"), "pie"),
        ("Supper", ("tartlet-cases", "cream"), "glass"),
        ("Supper", ("ice-cream", "jacket"), "jacket"),
        ("Supper", ("ice-cream", "sponge"), "jacket"),
        ("Supper", ("ice-cream", "compote"), "glass"),
        ("Supper", ("rolling-sheet", "cream"), "roll"),
        ("Supper", ("nests", "cream"), "filled shell"),
        ("Supper", ("sabayon", "compote"), "glass"),
        ("Supper\nFold and freeze in a loaf tin.", ("topping", "cream", "compote"), "mould"),
        ("Supper\nFold and freeze.", ("topping", "cream"), "mould"),
        ("Supper\nFold and freeze.", ("nests", "cream"), "filled shell"),
    ],
)
def test_what_parts_make_together_is_read_from_what_is_said_then_from_what_they_are(text, recipes, kind):
    assert product_kind(cut(text, names()), [STARTED[key] for key in recipes]) == kind


@pytest.mark.parametrize(("before", "lines"), [("\n", [2, 4]), ("", [2, 4])])
def test_a_plain_name_alone_is_a_heading_behind_a_blank_line(before, lines):
    text = f"Supper\n4 egg whites\n220 g caster sugar\n{before}curd\n3 egg yolks\n80 g sugar\n100 ml lemon juice\n60 g butter"
    found = read(text, Habits())
    assert [len(recipe.lines) for recipe in found.recipes] == lines
    assert (found.recipes[1].name == "curd") == (before == "\n")


@pytest.mark.parametrize(
    ("text", "batches"),
    [
        ("3 egg yolks\n80 g sugar\n200 ml milk\n3 egg whites\n150 g sugar", [3, 2]),
        ("3 egg yolks\n100 ml lemon juice\n50 g butter\n3 egg whites\n150 g sugar", [5]),  # a custard has its own sugar
    ],
)
def test_a_custard_and_a_foam_one_after_the_other_are_two(text, batches):
    assert [len(recipe.lines) for recipe in read(text, Habits()).recipes] == batches


def whole(text: str, found: ReadText) -> str:
    return "".join(text[slice(*phrase.span)] for phrase in found.phrases)


SPOILT = st.lists(
    st.sampled_from([*"½°×/-–,.;:()[]<>0123456789\n\t’é\ue000", "  ", " and ", " then ", "٣", "\u202e", "½ tsp"]), max_size=12
)


@given(st.sampled_from(TEXTS), SPOILT, st.randoms(use_true_random=False))
def test_no_spoilt_text_raises_or_loses_a_letter(text: str, spoilt: list[str], chance):
    letters = list(text)
    for one in spoilt:
        letters[chance.randrange(len(letters))] = one
    made = "".join(letters)
    found = read(made, Habits())
    assert whole(made, found) == made
    for recipe in found.recipes:
        assert all(made[slice(*x.span)] == x.written and x.written for x in recipe.lines)


@given(st.lists(st.sampled_from(sorted({w for t in TEXTS for w in t.split(" ")})), max_size=60))
def test_no_shuffled_text_raises_or_loses_a_letter(said: list[str]):
    made = " ".join(said)
    assert whole(made, read(made, Habits())) == made


@given(st.text(max_size=300))
def test_nothing_that_is_typed_raises_or_is_lost(made: str):
    assert whole(made, read(made, Habits())) == made


@pytest.mark.parametrize("made", ["1" * MOST_TEXT, "\n" * 3000, "(" * 3000, "200 g sugar, " * 400, "half a " * 500, "x 3 " * 700])
def test_a_text_that_is_hard_to_read_is_read_all_the_same(made: str):
    assert whole(made, read(made, Habits())) == made


def test_an_answer_changes_what_it_is_about_and_nothing_else():
    text = f"{WHITES}230 g caster\n2 tbsp icing sugar\n2 tbsp icing sugar, folded in last"
    before = read(text, Habits())
    after = read(text, Habits(), answers=[Answered(written="2 tbsp icing sugar", nth=1, key="g:24.96")])
    assert [x.status for x in before.recipes[0].lines] == ["read", "read", "asked", "asked"]
    assert [(x.status, x.grams) for x in after.recipes[0].lines][2:] == [("asked", None), ("read", 24.96)]
    left = read(text, Habits(), answers=[Answered(written="2 tbsp icing sugar", key="leave")])
    assert [x.status for x in left.recipes[0].lines][2:] == ["unknown", "asked"]
    assert len(left.questions) == 1


@pytest.mark.parametrize("key", ["g:nan", "g:", "g:much", "is:gravel", "moment:never", "shape:cube", "c:x", "", ":", "leave:"])
def test_an_answer_that_means_nothing_changes_nothing_known(key: str):
    found = read(f"{WHITES}230 g caster", Habits(), answers=[Answered(written="230 g caster", key=key)])
    grams = found.recipes[0].lines[1].grams
    assert grams is None or 0 <= grams <= 230


def test_listed_and_used_that_differ_are_asked_about():
    found = read(f"{WHITES}180 g caster sugar\n\nMethod\nWhisk, then rain in 120 g of the caster sugar.", Habits())
    assert [(q.written, [a.key for a in q.answers]) for q in found.questions] == [
        ("180 g caster sugar", ["g:180.00", "g:120.00", "leave"])
    ]
    split = f"{WHITES}180 g caster sugar\n\nMethod\nRain in 120 g of the sugar, fold in 60 g of the sugar."
    assert not read(split, Habits()).questions


def test_what_only_the_instructions_list_is_read_there():
    recipe = only("Whisk 4 egg whites to soft peaks, add 220 g caster sugar, fold in 1 tsp cornflour. Fan 100 for 75 minutes.")
    assert [(x.ingredient, x.moment) for x in recipe.lines] == [
        ("egg-white", "start"),
        ("caster", "soft"),
        ("cornflour", "folded last"),
    ]


def test_the_kitchens_own_ingredients_are_read_by_their_names():
    own = OwnIngredient(key="sea-fig-syrup", name="Sea-fig syrup", role="sugar", sugars=70, carbohydrate=70)
    recipe = read(f"{WHITES}200 g caster\n30 g sea fig syrup", Habits(), [own]).recipes[0]
    assert recipe.lines[2].ingredient == "sea-fig-syrup"
    assert recipe.recipe is not None
    assert recipe.recipe.lines[2].own == own


STRANGE = "Mousse\n6 yolks\n110 g sugar\n2 tbsp cointreau style liqueur\n100 ml orange juice\nover a bath to 72"


def test_a_thing_the_larder_has_not_is_a_line_nothing_is_known_of():
    found = read(STRANGE, Habits())
    (question,) = found.questions
    assert question.written == "2 tbsp cointreau style liqueur"
    assert [a.key for a in question.answers][-2:] == ["own", "note"]
    assert not found.kept
    recipe = found.recipes[0].recipe
    assert recipe is not None
    line = next(x for x in recipe.lines if x.own is not None)
    assert (line.own.name, line.mass_g, line.item.known) == ("cointreau style liqueur", None, False)


def test_the_cook_says_what_a_strange_thing_is():
    def told(key: str):
        return read(STRANGE, Habits(), answers=[Answered(written="2 tbsp cointreau style liqueur", key=key)])

    liqueur = told("is:orange-liqueur")
    assert [(x.ingredient, x.grams) for x in liqueur.recipes[0].lines][2] == ("orange-liqueur", 30)
    assert not liqueur.questions
    own = told("own")
    assert not own.questions
    assert any(x.own is not None for x in own.recipes[0].recipe.lines)
    assert own.recipes[0].lines[2].status == "unknown"
    noted = told("note")
    assert not noted.questions
    assert noted.kept == ("2 tbsp cointreau style liqueur",)
    assert all(x.own is None for x in noted.recipes[0].recipe.lines)


@pytest.mark.parametrize(
    "strange",
    [
        "200 g digestive biscuits",
        "digestive biscuits, 200 g",
        "a handful of grandmother's crumble",
        "Whisk. Fold in 50 g crushed speculoos.",
        "For the base\n200 g digestive biscuits",
    ],
)
def test_a_strange_thing_is_never_left_off_the_label(strange):
    found = read(f"Pavlova\n120 g whites\n230 g caster\n1 tsp cornflour\n100 C 1 hr\n{strange}", Habits()).recipes
    inside, known = holds(x.item for one in found if one.recipe for x in one.recipe.lines)
    assert not known
    entry = Findable(words=inside, holds=inside, allergens_known=known, eggs={}, minutes=None)
    assert not sought("no gluten", holds(INGREDIENTS.values())[0]).fits(entry, None)


@pytest.mark.parametrize("text", ["2 bricks", "200 g gravel\n3 kg sand\nbake 100 C 1 hr"])
def test_nothing_of_the_larder_is_no_recipe(text):
    found = read(text, Habits())
    assert not found.recipes
    assert " ".join(found.kept).split() == text.split()


def test_nuts_without_a_kind_keep_their_weight_and_are_not_known():
    recipe = only("Meringue\n120 g whites\n230 g caster\n100 g nuts\n100 C 1 hr").recipe
    assert recipe is not None
    assert recipe.lines[-1].mass_g == 100
    assert not recipe.lines[-1].item.allergens
    assert "allergens" in recipe.lines[-1].item.lacks


def test_how_a_thing_is_made_ready_is_kept_with_it():
    recipe = only(
        "Curd\n3 eggs, beaten\n100 g cold butter, cubed, off the heat\n150 g caster\njuice of 3 lemons\nto 80 over a bath"
    ).recipe
    assert recipe is not None
    assert recipe.notes.splitlines() == ["Whole egg: beaten", "Butter: cold, cubed"]


@pytest.mark.parametrize(
    ("text", "key"),
    [
        ("1 l strawberry ice cream", "ice-cream"),
        ("200 g raspberry jam", "preserve"),
        ("1 tsp sherry vinegar", "vinegar"),
        ("100 ml mango juice", "fruit-juice"),
        ("200 g lemon sorbet", "sorbet"),
        ("1 tsp lemon juice", "lemon-juice"),
    ],
)
def test_a_flavour_before_a_thing_is_not_the_thing(text: str, key: str):
    found = [x.ingredient for recipe in read(f"{WHITES}200 g caster sugar\n{text}", Habits()).recipes for x in recipe.lines]
    assert [x for x in found if x not in ("egg-white", "caster")] == [key]


def test_what_is_off_is_not_always_the_oven():
    recipe = only(
        f"{WHITES}220 g caster sugar\n33 x 23 cm tin\nBake at 160 fan for 15 minutes. Peel off the paper and leave to cool for 10 minutes."
    )
    assert [(s.set_c, s.minutes) for s in recipe.oven] == [(160, 15)]


def test_notes_are_kept_word_for_word_and_with_their_part():
    text = f"{WHITES}220 g caster sugar\nUse the copper bowl from the attic.\n\nNotes\n2 eggs are never enough for Uncle Bo"
    found = read(text, Habits())
    assert found.kept == ("Use the copper bowl from the attic.", "2 eggs are never enough for Uncle Bo")
    assert found.recipes[0].recipe is not None
    assert found.recipes[0].recipe.notes == "\n".join(found.kept)


@pytest.mark.parametrize("case", CASES.values(), ids=lambda case: case.name)
def test_text_to_recipe_to_text_to_recipe_is_the_same_recipe(case):
    habits = HABITS[case.habits]
    for found in read(case.text, habits).recipes:
        assert found.recipe is not None, en(found.refused)
        again = only(plain.write(found.recipe, habits), habits)
        assert again.recipe == found.recipe


@pytest.mark.parametrize("drink", ["dry sherry", "medium-dry cider", "sweet vermouth", "dry white wine", "bone dry cider"])
def test_how_sweet_a_drink_is_keeps_its_amount_with_it(drink: str):
    (line,) = (x for x in only(f"Sabayon\n6 yolks\n90 g caster\n120 ml {drink}\nto 74").lines if x.written.startswith("120 ml"))
    assert line.grams == pytest.approx(120, abs=3)


def test_a_thing_that_names_the_dish_is_not_what_goes_in():
    text = "We make the passion fruit curd with 3 whole eggs, 160 g of sugar, 150 ml of passion fruit juice and 120 g of butter."
    assert [x.ingredient for x in only(text).lines] == ["whole-egg", "granulated", "passion-fruit-juice", "butter"]


def test_every_thing_of_the_larder_is_read_by_the_name_it_is_written_with():
    def is_read(key: str) -> bool:
        found = read(f"{WHITES}30 g {plain.readable(INGREDIENTS[key])}", Habits())
        return key in {x.ingredient for recipe in found.recipes for x in recipe.lines}

    assert [key for key in sorted(INGREDIENTS) if not is_read(key)] == []


@pytest.mark.parametrize("way", sorted(WAYS))
def test_every_way_is_read_where_a_text_names_it(way: str):
    rests_on = next(i for i in INGREDIENTS.values() if i.role in WAYS[way].rests_on and i.known)
    found = read(f"Something\n200 g {plain.readable(rests_on)}\n100 g caster sugar\nMade as: {way}", Habits())
    assert [recipe.way for recipe in found.recipes] == [way]


def test_every_way_is_recognised_with_a_reason_that_has_its_words():
    reasons = {recipe.why.key for case in CASES.values() for recipe in read(case.text, Habits()).recipes}
    assert reasons <= set(words.sentences())
    assert len(reasons) > 15


@pytest.mark.parametrize(
    ("text", "n"),
    [
        ("ninety nine", 99),
        ("one eighteen", 118),
        ("three quarters of a", 0.75),
        ("a couple of", 2),
        ("five dozen", 60),
        ("2 1/4", 2.25),
    ],
)
def test_a_figure_in_words_is_a_figure(text: str, n: float):
    assert measures.number(text) == n
