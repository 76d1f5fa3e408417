"""From a nameplate to breaker, contactor, overload relay, dial and cable, every line of arithmetic shown."""
