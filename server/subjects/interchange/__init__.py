"""Other formats, clean sheets, circuits made by rules."""
