"""One blueprint a resource. Bodies are pydantic models; errors are problems (RFC 9457)."""
