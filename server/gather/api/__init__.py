"""Gather over HTTP, a file a kind of thing."""
