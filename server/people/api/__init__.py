"""People over HTTP, a file a kind of thing."""
