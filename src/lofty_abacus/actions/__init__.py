"""One file per thing a person can ask for. What they need of the outside stands in `ports.py` and is joined in wiring."""
