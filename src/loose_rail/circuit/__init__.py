"""Networks as a cold meter meets them: frozen elements, batched nodal analysis, meter modes."""
