"""Why: reasons, levels, routes, measurement errors."""
