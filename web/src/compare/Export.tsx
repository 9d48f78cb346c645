import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useProject } from "../shell/project";
import { Choice } from "../ui/Choice";
import { useToasts } from "../ui/toasts";
import { type Comparison, download, type ExportFile, hand } from "./data";
import type { Question } from "./spec";

const LOOK = "block w-full rounded-md px-3 py-1 text-left data-focus:bg-spruce-soft";

/** The ways out: table, figure, passages, methods. `least` hides cells of fewer people in tables. */
export function Export({
	question,
	result,
	least,
	onLeast,
}: {
	question: Question;
	result: Comparison;
	least: number;
	onLeast: (least: number) => void;
}) {
	const project = useProject();
	const { warn, tell } = useToasts();
	const said = result.sentence.map((part) => part.text).join("");
	const failed = (error: Error) => warn(error.message);
	const save = (file: ExportFile) =>
		download(project.id, question, file).then(() => tell("Exported, with the sentence and what is left out."), failed);
	const picture = async (kind: "svg" | "png") => {
		const shown = document.querySelector<HTMLElement>("[data-form]");
		if (!shown) return;
		const { asPng, pictureOf } = await import("./picture");
		const drawn = pictureOf(shown, [said], [result.left_out_line, ...result.cautions]);
		hand(kind === "svg" ? new Blob([drawn], { type: "image/svg+xml" }) : await asPng(drawn), `comparison.${kind}`);
		tell("Exported: the figure as it stands, with its sentence.");
	};
	const item = (label: string, onClick: () => void) => (
		<MenuItem key={label}>
			<button type="button" className={LOOK} onClick={onClick}>
				{label}
			</button>
		</MenuItem>
	);
	return (
		<Menu>
			<MenuButton className="mb-1 ml-2 rounded-md border border-line bg-white px-2.5 py-1 text-[13px] font-semibold hover:border-quiet">
				Export ▾
			</MenuButton>
			<MenuItems
				anchor={{ to: "bottom end", gap: 4 }}
				className="z-40 w-72 rounded-lg border border-line bg-white p-1 text-[13.4px] shadow-lg focus:outline-none"
			>
				<Head>Table</Head>
				{item("Spreadsheet (.xlsx)", () => save({ format: "xlsx", what: "table", least }))}
				{item("Plain table (.csv)", () => save({ format: "csv", what: "table", least }))}
				{item("Document (.docx)", () => save({ format: "docx", what: "table", least }))}
				<div className="flex items-center px-3 py-1 text-[12.6px] text-quiet">
					Hide cells of fewer than
					<Choice
						as="small"
						name="Hide cells of fewer than"
						value={least}
						options={[0, 2, 3, 5, 10].map((value) => ({ value, label: value ? `${value} ${project.case_many}` : "(hide none)" }))}
						onChange={onLeast}
					/>
				</div>
				<Head>Figure, as it stands</Head>
				{item("Drawing (.svg)", () => void picture("svg").catch(failed))}
				{item("Picture (.png)", () => void picture("png").catch(failed))}
				<Head>All its passages</Head>
				{item("Spreadsheet of passages (.xlsx)", () => save({ format: "xlsx", what: "passages", least: 0 }))}
				{item("Document of passages (.docx)", () => save({ format: "docx", what: "passages", least: 0 }))}
				<Head>Methods</Head>
				{item(
					"Copy the methods paragraph",
					() =>
						void navigator.clipboard
							.writeText([result.methods, ...result.sources].join("\n"))
							.then(() => tell("Copied: what was done, with its sources."), failed),
				)}
			</MenuItems>
		</Menu>
	);
}

function Head({ children }: { children: React.ReactNode }) {
	return <div className="px-3 pt-1.5 pb-0.5 text-[12px] font-semibold text-quiet">{children}</div>;
}
