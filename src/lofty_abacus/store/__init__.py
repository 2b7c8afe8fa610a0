"""Records in MariaDB through SQLAlchemy, and the columns derived from them."""
