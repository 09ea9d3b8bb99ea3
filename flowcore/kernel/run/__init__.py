"""One replication: what happens when, its beginning and its end."""
