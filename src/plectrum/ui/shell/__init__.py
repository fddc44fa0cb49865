"""The window around the screens: menus, header, rail, settings, recovery."""
