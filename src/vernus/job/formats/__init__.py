"""What a job and its readings look like outside: measurement CSV, the JSON export, CSV tables."""
