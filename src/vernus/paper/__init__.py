"""The printed report, and the pictures that screen and paper share."""
