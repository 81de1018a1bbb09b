"""What the dossier says of what a guest agreed to."""

from lauschen.api.guests.shapes import consents_out
from lauschen.api.shaping import Shaper
from lauschen.store.guests.lines import guest_line
from tests.ensemble import ENSEMBLE, Ensemble
from tests.place import PHONE, Place


def test_it_says_to_which_version_of_the_house_rules_and_when(place: Place) -> None:
    ensemble = Ensemble(place)
    ensemble.ask()
    ensemble.agree(ensemble.open())
    line = guest_line(place.conn, place.keys, PHONE, ENSEMBLE, 0)
    assert line is not None
    (said,) = consents_out(Shaper(place.config, place.keys, place.conn, place.now), line)
    assert said.startswith("Agreed at ")
    assert said.endswith(" to version 1 of the house rules, in English.")
