"""Who is signed in."""
