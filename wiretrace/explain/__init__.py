"""Why a reading is what it is."""
