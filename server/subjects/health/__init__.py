"""Is it there?"""
