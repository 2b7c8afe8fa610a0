"""Mail: handing messages to a server, and a small catcher for trying it out."""
