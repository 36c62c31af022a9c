/** The colours of a theme as a canvas needs them, read from the style sheet once a theme. */
export type Inks = {
  ink: string;
  paper: string;
  token: string;
  edge: string;
  faint: string;
  font: string;
  /** the hatching of waits */
  hatch: (on: CanvasRenderingContext2D) => CanvasPattern | string;
};

const known = new Map<string, Inks>();

export function inksOf(theme: string): Inks {
  const found = known.get(theme);
  if (found) return found;
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  const [paper, accent] = [colour("--color-base-100"), colour("--color-accent")];
  let pattern: CanvasPattern | null = null;
  const inks: Inks = {
    ink: colour("--color-base-content"),
    paper,
    token: colour("--token"),
    edge: colour("--token-edge"),
    faint: colour("--faint"),
    font: getComputedStyle(document.body).fontFamily,
    hatch: (on) => {
      pattern ??= on.createPattern(tile(paper, accent), "repeat");
      return pattern ?? accent;
    },
  };
  known.set(theme, inks);
  return inks;
}

/** A tile of slanting strokes that joins on all sides. */
function tile(paper: string, stroke: string): HTMLCanvasElement {
  const size = 7;
  const element = document.createElement("canvas");
  element.width = size;
  element.height = size;
  const on = element.getContext("2d");
  if (!on) return element;
  on.fillStyle = paper;
  on.fillRect(0, 0, size, size);
  on.strokeStyle = stroke;
  on.lineWidth = 2.4;
  on.beginPath();
  for (const shift of [-size, 0, size]) {
    on.moveTo(shift - 1, size + 1);
    on.lineTo(shift + size + 1, -1);
  }
  on.stroke();
  return element;
}
