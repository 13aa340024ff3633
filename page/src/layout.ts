// SPDX-License-Identifier: MIT
// Where things are: the panes around the scene, and the buttons that move its camera.

import { button, byId } from "./dom";
import { Pane } from "./pane";
import type { View } from "./view";

export function cameraButtons(view: View): HTMLButtonElement[] {
  return [
    button("above", "From above", () => view.viewFrom("above")),
    button("side", "From the side", () => view.viewFrom("side")),
    button("angle", "At an angle", () => view.viewFrom("angle")),
    button("chosen", "Centre the selected object", () => view.centreOnSelected()),
    button("+", "Zoom in", () => view.zoom(1.25), { "aria-label": "Zoom in" }),
    button("−", "Zoom out", () => view.zoom(0.8), { "aria-label": "Zoom out" }),
    button("↺", "Rotate left", () => view.turn(-15), { "aria-label": "Rotate left" }),
    button("↻", "Rotate right", () => view.turn(15), { "aria-label": "Rotate right" }),
  ];
}

/** Panes beside the scene: their sizes can be dragged, and they can be folded. `changed`: one of them was. */
export function layOutPanes(view: View, changed: () => void): void {
  const readings = new Pane(byId("side"), {
    name: "readings",
    edge: "right",
    property: "--side",
    least: 170,
    most: () => innerWidth * 0.45,
    usual: () => Math.min(Math.max(205, innerWidth * 0.165), 400),
    changed,
  });
  byId("side").append(readings.divider);
  byId("water").prepend(readings.folder);
  const stack = new Pane(byId("chosen"), {
    name: "values",
    edge: "top",
    property: "--stack",
    least: 90,
    most: () => innerHeight * 0.6,
    usual: () => Math.min(innerHeight * 0.3, 280),
    changed,
  });
  byId("chosen").prepend(stack.divider);
  byId("choice").prepend(stack.folder);

  // What panes cover at the edges is not counted in the middle of the scene.
  const sides = ["rules", "tries", "input"].map(byId);
  const insets = new ResizeObserver(() =>
    view.setInset({
      bottom: byId("chosen").classList.contains("folded") ? 0 : byId("stack").clientHeight,
      right: Math.max(...sides.map((side) => side.offsetWidth)),
    }),
  );
  for (const pane of [byId("chosen"), ...sides]) insets.observe(pane);
}
