/** How many colours codes have; a code's colour always stands beside its name. The colours themselves: tokens.css. */
export const CODE_COLOURS = 16;

export function codeColour(index: number): string {
	return `var(--color-code-${index % CODE_COLOURS})`;
}

/** Groups are told apart by colour and by shape; colours hold for the colour-blind. */
const SHAPES = ["●", "■", "▲", "◆", "★", "✚", "▼", "⬟"];

export function groupMark(index: number): { colour: string; shape: string } {
	const place = index % SHAPES.length;
	return { colour: `var(--color-group-${place})`, shape: SHAPES[place] as string };
}
