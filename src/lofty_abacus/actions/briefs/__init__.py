"""Briefs: composing, publishing, what was restated, handing out."""
