"""The display checked, corrected and proved."""
