import { say } from "../language/say";
import { codeColour } from "../ui/palette";

/** What a row is: a code by its colour, a theme or a saved query by a sign. */
export function RowMark({ row }: { row: { kind?: string; colour: number | null } }) {
	if (row.colour !== null)
		return <span className="mr-1.5 inline-block size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(row.colour) }} />;
	return (
		<span
			className="mr-1.5 inline-block w-2.5 shrink-0 text-center text-[11px] text-quiet"
			title={row.kind === "query" ? say("saved query") : say("theme")}
		>
			{row.kind === "query" ? "?" : "❖"}
		</span>
	);
}

export const rowKey = (row: { kind: string; id: number }) => `${row.kind}:${row.id}`;
