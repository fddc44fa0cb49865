"""From notes to a bowing plan: units, the dynamic program, sharing, reasons and warnings."""
