"""A statement answered: windows resolved, lines added up, every shown cell evaluated, and what was left out said."""
