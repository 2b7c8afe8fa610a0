"""Briefs: what managers get. One rendering from which the screen, the PDF, the single file and the mail come."""
