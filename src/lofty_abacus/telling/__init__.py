"""One voice: what a statement asks and an answer shows, in words; page, files, print and command line say the same."""
