import { useProject } from "../../shell/project";
import { Choice } from "../../ui/Choice";
import type { Comparison } from "../data";
import type { Question } from "../spec";
import { ExportMenu, Head, PictureWays, Way } from "./ExportMenu";
import { useSaving } from "./saving";

interface Props {
	question: Question;
	result: Comparison;
	/** Cells of fewer people are hidden in tables. */
	least: number;
	onLeast: (least: number) => void;
}

/** The ways out of a comparison: table, figure, passages, methods. */
export function Export({ question, result, least, onLeast }: Props) {
	const { case_many } = useProject();
	const { file, copy } = useSaving();
	const said = result.sentence.map((part) => part.text).join("");
	const table = (format: string) => () => void file("compare/export", { ...question, format, what: "table", least });
	const passages = (format: string) => () => void file("compare/export", { ...question, format, what: "passages" });
	return (
		<ExportMenu className="mb-1 ml-2">
			<Head>Table</Head>
			<Way label="Spreadsheet (.xlsx)" onClick={table("xlsx")} />
			<Way label="Plain table (.csv)" onClick={table("csv")} />
			<Way label="Document (.docx)" onClick={table("docx")} />
			<div className="flex items-center px-3 py-1 text-[12.6px] text-quiet">
				Hide cells of fewer than
				<Choice
					as="small"
					name="Hide cells of fewer than"
					value={least}
					options={[0, 2, 3, 5, 10].map((value) => ({ value, label: value ? `${value} ${case_many}` : "(hide none)" }))}
					onChange={onLeast}
				/>
			</div>
			<PictureWays
				head={least ? "Figure, as it stands: hides no cells" : "Figure, as it stands"}
				above={[said]}
				below={[result.left_out_line, ...result.cautions.map((one) => one.text)]}
				name="comparison"
			/>
			<Head>All its passages</Head>
			<Way label="Spreadsheet of passages (.xlsx)" onClick={passages("xlsx")} />
			<Way label="Document of passages (.docx)" onClick={passages("docx")} />
			<Head>Methods</Head>
			<Way
				label="Copy the methods paragraph"
				onClick={() => void copy([result.methods, ...result.sources].join("\n"), "Copied: what was done, with its sources.")}
			/>
		</ExportMenu>
	);
}
