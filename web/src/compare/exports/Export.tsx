import { flushSync } from "react-dom";
import { api, take } from "../../api/client";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { useToasts } from "../../ui/toasts";
import type { Comparison } from "../data";
import { legendOf } from "../legend";
import type { Question } from "../spec";
import type { Form, View } from "../view";
import { ExportMenu, Head, PictureWays, Way } from "./ExportMenu";
import { type PictureKind, useSaving } from "./saving";

interface Props {
	question: Question;
	result: Comparison;
	view: View;
	/** Cells of fewer people are hidden in what leaves, or of fewer than the project’s own limit. */
	least: number;
	onLeast: (least: number) => void;
	/** Draw what may leave instead of what is on screen, for the moment in which the picture is taken. */
	onLeaving: (result: Comparison | null) => void;
}

/** Forms that show people one by one, or are made of exact counts: with a limit they don’t leave as pictures. */
const TELLING: Partial<Record<Form, string>> = {
	people: say("One by one shows single people"),
	spread: say("This form shows single people"),
	waves: say("This form shows single people"),
	map: say("A map is made of the exact counts"),
};

/** The ways out of a comparison: table, figure, passages, methods. */
export function Export({ question, result, view, least, onLeast, onLeaving }: Props) {
	const { id, case_many, hide_below, round_to } = useProject();
	const { file, copy, picture, table: copied } = useSaving();
	const { warn } = useToasts();
	const limit = Math.max(least, hide_below);
	const said = result.sentence.map((part) => part.text).join("");
	const table = (format: string) => () => void file("compare/export", { ...question, format, what: "table", least });
	const passages = (format: string) => () => void file("compare/export", { ...question, format, what: "passages", least });
	const captionOf = (one: Comparison) => ({
		above: [said],
		below: [one.left_out_line, ...one.cautions.map((caution) => caution.text), legendOf(one, view)].filter(Boolean),
		name: "comparison",
	});
	const leaving = async (kind: PictureKind) => {
		const why = TELLING[view.form];
		if (why) return warn(say("{why}: with small cells hidden it doesn’t leave. Choose another form.", { why }));
		try {
			const path = { params: { path: { project_id: id } }, body: { ...question, least } };
			const found = await take(api.POST("/api/projects/{project_id}/compare/leaving", path));
			flushSync(() => onLeaving(found));
			await picture(kind, captionOf(found));
		} catch (error) {
			warn((error as Error).message);
		} finally {
			onLeaving(null);
		}
	};
	const guarded = limit > 1 || round_to > 0;
	return (
		<ExportMenu className="mb-1 ml-2">
			<label className="flex flex-wrap items-center gap-1.5 px-3 py-1.5 text-[12.6px] text-quiet">
				{say("Hide cells of fewer than")}
				<input
					type="number"
					className="field w-14 py-0.5!"
					min={hide_below}
					max={50}
					value={limit}
					onChange={(event) => onLeast(Math.min(50, Math.max(0, Math.round(Number(event.target.value)) || 0)))}
				/>
				{case_many}
				{hide_below > 1 && (
					<span className="basis-full">
						{say("The project’s own limit is {hide_below}: it can be tightened here, not loosened.", { hide_below })}
					</span>
				)}
				{round_to > 0 && <span className="basis-full">{say("Counts leave rounded to {round_to}s.", { round_to })}</span>}
			</label>
			<Head>{say("Table")}</Head>
			<Way
				label={say("Copy as table")}
				onClick={() => void copied("compare/export", { ...question, format: "tsv", what: "table", least })}
			/>
			<Way label={say("Spreadsheet (.xlsx)")} onClick={table("xlsx")} />
			<Way label={say("Plain table (.csv)")} onClick={table("csv")} />
			<Way label={say("Document (.docx)")} onClick={table("docx")} />
			<Way label={say("Data for other programs (.zip)")} onClick={table("zip")} />
			<PictureWays
				head={guarded ? say("Figure, with the same hidden") : say("Figure, as it stands")}
				{...(guarded && { instead: (kind: PictureKind) => void leaving(kind) })}
				{...captionOf(result)}
			/>
			<Head>{say("All its passages")}</Head>
			<Way label={say("Spreadsheet of passages (.xlsx)")} onClick={passages("xlsx")} />
			<Way label={say("Document of passages (.docx)")} onClick={passages("docx")} />
			<Head>{say("Methods")}</Head>
			<Way
				label={say("Copy the methods paragraph")}
				onClick={() => void copy([result.methods, ...result.sources].join("\n"), say("Copied: what was done, with its sources."))}
			/>
		</ExportMenu>
	);
}
