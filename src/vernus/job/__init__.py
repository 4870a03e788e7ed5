"""The job document: its entities, its file, its history, and what can be said about it. No Qt."""
