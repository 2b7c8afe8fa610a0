"""Codes of members are given out once and found again, also where 64-bit hashes clash."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.store import member_codes
from lofty_abacus.store.member_codes import MemberCodes

_KEYS = st.lists(st.text(max_size=3), unique=True, max_size=20)


@given(known=_KEYS, batches=st.lists(_KEYS, max_size=12), levels=st.integers(1, 6))
def test_codes_are_those_of_a_plain_dictionary(known: list[str], batches: list[list[str]], levels: int) -> None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(member_codes, "MOST_LEVELS", levels)
        codes = MemberCodes([None, *known])
        plain = {key: code for code, key in enumerate(known, start=1)}
        for keys in batches:
            found, fresh = codes.codes(keys)
            new = [key for key in keys if key not in plain]
            plain |= {key: len(plain) + 1 + at for at, key in enumerate(new)}
            assert fresh == new and found.tolist() == [plain[key] for key in keys]
        assert len(codes) == len(plain) + 1


def test_keys_whose_hashes_clash_are_told_apart(monkeypatch: pytest.MonkeyPatch) -> None:
    import numpy as np

    monkeypatch.setattr(member_codes, "_hashes", lambda keys: np.array([len(key) for key in keys], np.int64))
    codes = MemberCodes(["aa", "bb", "c"])
    assert codes.codes(["bb", "aa", "dd", "c"])[0].tolist() == [1, 0, 3, 2]
    assert codes.codes(["ee", "dd", "f", "c"])[0].tolist() == [4, 3, 5, 2]
    assert codes.codes(["f", "ee", "bb"])[1] == []


def test_a_key_that_is_too_long_is_refused() -> None:
    with pytest.raises(RefusedError, match="has 256 characters"):
        MemberCodes([]).codes(["x" * 256])
