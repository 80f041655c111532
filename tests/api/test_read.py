"""A cook's text over HTTP and at the terminal: read, and kept whole or not at all."""

import json
from pathlib import Path

from fastapi.testclient import TestClient
from typer.testing import CliRunner

from gullpeak.cli import app
from gullpeak.core.reading.model import MOST_TEXT

NESTS = "Filled nests for 6\n\nNests\n3 egg whites\n165 g caster sugar\n2 tbsp icing sugar\n8 cm nests, fan 100 for 75 min\n\nCream\n250 ml double cream"


def test_a_text_is_read_in_the_kitchens_habits(client: TestClient):
    kitchen = client.get("/api/kitchen").json()
    habits = {**kitchen["kitchen"]["habits"], "egg_size": "US large", "no_fan_word": "fan"}
    put = client.put(
        "/api/kitchen", json={**kitchen["kitchen"], "habits": habits}, headers={"If-Match": f'"{kitchen["version"]}"'}
    )
    assert put.status_code == 200
    (recipe,) = client.post("/api/read", json={"text": "3 egg whites\n180 g caster\n8 cm nests\n100 for 75 min"}).json()[
        "recipes"
    ]
    assert recipe["lines"][0]["grams"] == 97.02
    assert (recipe["oven"][0]["fan"], recipe["oven"][0]["air_said"]) == (True, False)
    assert any("fan" in says for says in recipe["by_habit"])


def test_an_answer_is_sent_with_the_text(client: TestClient):
    found = client.post("/api/read", json={"text": NESTS, "answers": []}).json()
    (question,) = found["questions"]
    key = next(a["key"] for a in question["answers"] if a["says"].startswith("heaped"))
    again = client.post(
        "/api/read", json={"text": NESTS, "answers": [{"written": question["written"], "nth": 0, "key": key}]}
    ).json()
    assert again["questions"] == []


def test_what_is_read_is_kept_with_its_whole_under_names_that_are_free(client: TestClient):
    first, second = (client.post("/api/read/kept", json={"text": NESTS}).json() for _ in range(2))
    assert first["place"] == "products"
    names = [client.get(f"/api/recipes/{i}").json()["recipe"]["name"] for made in (first, second) for i in made["recipes"]]
    assert names == ["Nests", "Cream", "Nests 2", "Cream 2"]
    product = client.get(f"/api/products/{second['id']}").json()["product"]
    assert (product["name"], [p["of"] for p in product["parts"]]) == ("Filled nests 2", second["recipes"])


def test_nothing_is_kept_of_a_text_that_cannot_be_kept_whole(client: TestClient):
    before = len(client.get("/api/recipes").json())
    for text in ("", "ring the dairy", "4 egg whites"):
        answer = client.post("/api/read/kept", json={"text": text})
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == "text"
    assert len(client.get("/api/recipes").json()) == before


def test_a_text_that_is_too_long_is_refused_at_its_field(client: TestClient):
    answer = client.post("/api/read", json={"text": "x" * (MOST_TEXT + 1)})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "text"


def test_a_recipe_goes_out_as_plain_text_and_comes_in_again(client: TestClient):
    kept = client.post(
        "/api/read/kept", json={"text": "Kisses, makes 20\n3 egg whites\n180 g caster sugar\n4 cm kisses\nfan 95 for 80 min"}
    ).json()
    out = client.get(f"/api/files/recipes/{kept['id']}/text")
    assert out.headers["content-type"].startswith("text/plain")
    found = client.post("/api/files/read", content=out.content).json()
    assert found["entries"][0]["near"]["same"]


def test_a_file_is_read_at_the_terminal(tmp_path: Path):
    file = tmp_path / "card.txt"
    file.write_text(NESTS, encoding="utf-8")
    call = CliRunner().invoke
    made = call(app, ["read", str(file), "--json", "--data", str(tmp_path / "none")])
    assert made.exit_code == 0
    found = json.loads(made.output)
    assert [r["way"] for r in found["recipes"]] == ["french", "whipped cream"]
    assert found["product"] == {"kind": "filled shell", "parts": ["Nests", "Cream"]}
    said = call(app, ["read", str(file), "--data", str(tmp_path / "none")]).output
    assert "Nests: French." in said
    assert "? 2 tbsp icing sugar: Level or heaped?" in said
    assert call(app, ["read", str(tmp_path / "nothing.txt")]).exit_code != 0
