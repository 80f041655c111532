"""An ingredient of one's own over HTTP: described once, there to be chosen, read and kept everywhere."""

from fastapi.testclient import TestClient

CORDIAL = {
    "key": "own-cordial",
    "name": "Heather cordial",
    "also": ["moor cordial"],
    "role": "liquid",
    "per": "ml",
    "carbohydrate": 46,
    "sugars": 45,
}


def test_it_is_kept_in_the_kitchen_and_offered_with_what_ships(client: TestClient):
    kept = client.post("/api/kitchen/larder", json={"own": CORDIAL, "per_kg": 7.5})
    assert kept.status_code == 200, kept.text
    kitchen = kept.json()["kitchen"]
    assert [own["name"] for own in kitchen["larder"]] == ["Heather cordial"]
    assert {"ingredient": "own-cordial", "per_kg": 7.5} in kitchen["prices"]
    larder = client.get("/api/larder").json()
    item = next(i for i in larder["ingredients"] if i["key"] == "own-cordial")
    assert (item["own"], item["known"], item["also"]) == (True, False, ["moor cordial"])
    assert [own["key"] for own in larder["own"]] == ["own-cordial"]
    again = client.post("/api/kitchen/larder", json={"own": {**CORDIAL, "sugars": 40}}).json()["kitchen"]
    assert [own["sugars"] for own in again["larder"]] == [40]
    assert {"ingredient": "own-cordial", "per_kg": 7.5} in again["prices"]


def test_a_name_that_another_thing_has_is_refused_at_the_name(client: TestClient):
    answer = client.post("/api/kitchen/larder", json={"own": {**CORDIAL, "name": "caster sugar"}})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "own.name"
    assert "describe that one" in answer.json()["errors"][0]["says"]


def test_an_amount_of_it_is_read_by_its_density_from_the_kitchen_or_the_recipe(client: TestClient):
    carried = client.post("/api/read/amount", json={"written": "100 ml", "ingredient": "own-cordial", "own": CORDIAL}).json()
    assert 117 < carried["mass_g"] < 118
    unknown = client.post("/api/read/amount", json={"written": "100 ml", "ingredient": "own-cordial"})
    assert unknown.json()["errors"][0]["field"] == "ingredient"
    client.post("/api/kitchen/larder", json={"own": {**CORDIAL, "density": 1.3}})
    kept = client.post("/api/read/amount", json={"written": "100 ml", "ingredient": "own-cordial"}).json()
    assert kept["mass_g"] == 130


def test_a_recipe_with_it_is_kept_worked_out_and_taken_to_another_kitchen(client: TestClient):
    made = client.post("/api/recipes/begun", json={"starter": "curd"}).json()
    lines = [*made["recipe"]["lines"], {"ingredient": "own-cordial", "mass_g": 40, "moment": "bath", "own": CORDIAL}]
    kept = client.put(f"/api/recipes/{made['id']}", json={**made["recipe"], "lines": lines}, headers={"If-Match": '"1"'})
    assert kept.status_code == 200, kept.text
    assert kept.json()["recipe"]["lines"][-1]["own"]["sugars"] == 45
    sheet = client.get(f"/api/recipes/{made['id']}/sheet").json()
    assert sheet["weigh"]["lines"][-1]["name"] == "Heather cordial"
    offered = {own["key"]: own for own in client.get("/api/larder").json()["own"]}
    assert offered["own-cordial"]["sugars"] == 45, "what a recipe brought along may be used in others"
    client.post("/api/kitchen/larder", json={"own": {**CORDIAL, "sugars": 30}})
    offered = {own["key"]: own for own in client.get("/api/larder").json()["own"]}
    assert offered["own-cordial"]["sugars"] == 30
    exported = client.get(f"/api/files/recipes/{made['id']}/archive")
    assert exported.status_code == 200, exported.text
    read = client.post("/api/files/read", content=exported.content, headers={"Content-Type": "application/octet-stream"}).json()
    assert read["entries"][0]["recipe"]["lines"][-1]["own"]["name"] == "Heather cordial"


def test_a_packet_is_read_before_it_is_kept(client: TestClient):
    read = client.post("/api/read/packet", json=CORDIAL).json()
    assert "density 1.17 g/ml, by its sugar" in read["how"]
    assert any("stays not known" in says and "allergens" in says for says in read["how"])
    wrong = client.post("/api/read/packet", json={**CORDIAL, "sugars": 50})
    assert wrong.json()["errors"][0]["field"] == "sugars"
    assert client.get("/api/kitchen").json()["kitchen"]["larder"] == []
