import { say } from "../language/say";

/** A list as a file, in each form that it has. `path` leads to it but for its ending. */
export function TakeOut({ path, endings, what }: { path: string; endings: string[]; what: string | ((ending: string) => string) }) {
	const said = typeof what === "string" ? () => what : what;
	return (
		<span className="flex items-center gap-2 text-[13px] text-quiet print:hidden">
			{say("Take it out as")}
			{endings.map((ending) => (
				<a
					key={ending}
					className="inline-flex min-h-6 items-center font-semibold text-spruce hover:underline"
					href={`${path}/${ending}`}
					title={said(ending)}
					aria-label={say(".{ending}: {what}", { ending, what: said(ending) })}
					download
				>
					.{ending}
				</a>
			))}
		</span>
	);
}
