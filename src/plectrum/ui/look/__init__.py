"""How everything looks: theme, fonts, icons, labels and layouts."""
