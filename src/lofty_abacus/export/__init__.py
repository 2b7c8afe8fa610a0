"""Answers as bytes, one file per format."""
