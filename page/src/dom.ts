// SPDX-License-Identifier: MIT
// Creates elements in one expression.

type Attributes = Record<string, string | number | boolean | ((event: never) => void) | undefined>;

/** An element with attributes, listeners ("onclick") and children; an attribute that is false or undefined is left out. */
export function el<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  attributes: Attributes = {},
  ...children: (Node | string)[]
): HTMLElementTagNameMap[K] {
  const made = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (value === undefined || value === false) continue;
    if (typeof value === "function") made.addEventListener(name.slice(2), value as unknown as EventListener);
    else made.setAttribute(name, value === true ? "" : String(value));
  }
  made.append(...children);
  return made;
}

/** An element of the page that is always there. */
export function byId(id: string): HTMLElement {
  const found = document.getElementById(id);
  if (!found) throw new Error(`there is no #${id}`);
  return found;
}

/** A button with a label and a tooltip. */
export function button(words: string, help: string, onclick: () => void, more: Attributes = {}): HTMLButtonElement {
  return el("button", { type: "button", title: help, onclick, ...more }, words);
}

/** A small curve from (0, 0) to (1, 1), such as that of an easing. */
export function curvePicture(curve: readonly number[], size = 36): SVGSVGElement {
  const space = "http://www.w3.org/2000/svg";
  const svg = document.createElementNS(space, "svg");
  svg.setAttribute("viewBox", "-0.06 -0.36 1.12 1.72");
  svg.setAttribute("width", String(size));
  svg.setAttribute("height", String(size * 1.1));
  svg.setAttribute("aria-hidden", "true");
  const line = document.createElementNS(space, "polyline");
  line.setAttribute("points", curve.map((y, i) => `${(i / (curve.length - 1)).toFixed(3)},${(1 - y).toFixed(3)}`).join(" "));
  svg.append(line);
  return svg;
}

/** Returns a function that requests a drawing. Several requests before the next frame of the screen draw once. */
export function oncePerFrame(draw: () => void): () => void {
  let isDue = false;
  return () => {
    if (isDue) return;
    isDue = true;
    requestAnimationFrame(() => {
      isDue = false;
      draw();
    });
  };
}

/** A text of at most so many letters. */
export function shortened(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

/** A name that may be broken into lines after its dots and commas. */
export function breakable(name: string): (Node | string)[] {
  return name.split(/(?<=[.,])/).flatMap((part, i) => (i === 0 ? [part] : [el("wbr"), part]));
}
