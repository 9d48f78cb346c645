/** Sixteen hues of about one lightness; a code's colour always stands beside its name. */
export const CODE_COLOURS = [
	"#D58936", "#C2A11F", "#8E9A3F", "#5B9A55", "#5FA58B", "#4C9FB0", "#5A93C4", "#6B84CC",
	"#8579CC", "#A56FC0", "#B77BB4", "#C76C9A", "#C96A7B", "#C46A5E", "#B5774B", "#9B8573",
] as const; // biome-ignore format: a palette reads as rows

export function codeColour(index: number): string {
	return CODE_COLOURS[index % CODE_COLOURS.length] as string;
}

/** Groups are told apart by colour and by shape; colours hold for the colour-blind. */
const GROUPS = [
	{ colour: "#9C560F", shape: "●" },
	{ colour: "#3E7A4B", shape: "■" },
	{ colour: "#0F5C8C", shape: "▲" },
	{ colour: "#8A4B8F", shape: "◆" },
	{ colour: "#6B6A12", shape: "★" },
	{ colour: "#A83A4E", shape: "✚" },
	{ colour: "#3C4A8F", shape: "▼" },
	{ colour: "#4F4F4F", shape: "⬟" },
];

export function groupMark(index: number): { colour: string; shape: string } {
	return GROUPS[index % GROUPS.length] as { colour: string; shape: string };
}
