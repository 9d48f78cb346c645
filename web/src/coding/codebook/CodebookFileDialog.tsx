import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import { ENDINGS } from "../../api/grammar.gen";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { counted } from "../../ui/words";
import { type CodebookHow, useCodebookFile } from "../overview";

const WAYS: { how: CodebookHow; label: string; says: string }[] = [
	{ how: "merge", label: "Merge into the codebook", says: "Takes over what the file says; what it doesn’t mention stays." },
	{
		how: "replace",
		label: "Put it in place of the codebook",
		says: "The codebook becomes what the file says. Codes that it lacks go, with their codings.",
	},
];
const SHOWN = 60;

/** A codebook from a file: chosen, read, shown what it would do, then brought in. */
export function CodebookFileDialog({ onClose }: { onClose: () => void }) {
	const { tell } = useToasts();
	const [file, setFile] = useState<File | null>(null);
	const [how, setHow] = useState<CodebookHow>("merge");
	const chooser = useRef<HTMLInputElement>(null);
	const { preview, bringIn } = useCodebookFile(file, how);
	const said = preview.data;
	const lost = said?.gone.reduce((sum, one) => sum + one.passages, 0) ?? 0;
	const nothing = said && said.new.length + said.changed.length + said.gone.length + said.themes.length === 0;
	return (
		<Modal title="Bring in a codebook" onClose={onClose} wide>
			<div className="mb-3 flex flex-wrap items-center gap-3">
				<input
					ref={chooser}
					type="file"
					aria-label="File with a codebook"
					accept={ENDINGS.codebooks.map((ending) => `.${ending}`).join(",")}
					className="sr-only"
					onChange={(event) => setFile(event.target.files?.[0] ?? null)}
				/>
				<Button look={file ? "plain" : "main"} onClick={() => chooser.current?.click()}>
					<FileUp size={15} /> {file ? "Another file" : "Choose a file"}
				</Button>
				<span className="quiet-line">
					{file ? file.name : "A sheet with a row a code (.xlsx, .csv; columns Code and Beneath), or .qdc from another program."}
				</span>
			</div>
			<fieldset className="mb-3">
				<legend className="sr-only">What to do with it</legend>
				{WAYS.map((way) => (
					<label key={way.how} className="flex min-h-7 items-baseline gap-2">
						<input type="radio" name="how" checked={how === way.how} onChange={() => setHow(way.how)} />
						<span>
							<b>{way.label}</b> <span className="text-quiet">{way.says}</span>
						</span>
					</label>
				))}
			</fieldset>
			{preview.isFetching && <p className="quiet-line">Reading the file …</p>}
			{preview.error && (
				<p role="alert" className="mb-2 text-danger">
					{preview.error.message}
				</p>
			)}
			{said && (
				<section aria-label="What will happen" className="mb-3 max-h-[46vh] pane rounded-md border border-line px-3 py-2 text-[13.4px]">
					<p className="mb-1 font-semibold">
						{counted(said.codes, "code")} in the file: {said.new.length} new, {counted(said.changed.length, "change")} to those you have,{" "}
						{said.same} the same
						{said.gone.length > 0 && `; ${said.gone.length} of yours go`}
					</p>
					{said.gone.length > 0 && (
						<Part title={`Would go, with ${counted(lost, "coding")}`} danger>
							{said.gone.map((one) => (
								<li key={one.name}>
									{one.name} <span className="text-quiet">{counted(one.passages, "passage")}</span>
								</li>
							))}
						</Part>
					)}
					{said.new.length > 0 && (
						<Part title="New">
							{said.new.slice(0, SHOWN).map((one, place) => (
								// biome-ignore lint/suspicious/noArrayIndexKey: a name may stand at several places
								<li key={place}>
									{one.name} {one.beneath && <span className="text-quiet">beneath {one.beneath}</span>}
								</li>
							))}
							{said.new.length > SHOWN && <li className="text-quiet">and {said.new.length - SHOWN} more</li>}
						</Part>
					)}
					{said.changed.length > 0 && (
						<Part title="Would say something else">
							{said.changed.slice(0, SHOWN).map((one) => (
								<li key={`${one.name} ${one.what}`}>
									<b className="font-semibold">{one.name}</b>, {one.what}:{" "}
									{one.before && <del className="text-quiet">{short(one.before)}</del>}{" "}
									{one.after ? <ins className="no-underline">{short(one.after)}</ins> : <i className="text-quiet">emptied</i>}
								</li>
							))}
							{said.changed.length > SHOWN && <li className="text-quiet">and {said.changed.length - SHOWN} more</li>}
						</Part>
					)}
					{said.themes.length > 0 && (
						<Part title="Themes, made where they aren’t there yet">
							<li>{said.themes.join(" · ")}</li>
						</Part>
					)}
					{said.warnings.length > 0 && (
						<Part title="Worth a look">
							{said.warnings.map((line) => (
								<li key={line}>{line}</li>
							))}
						</Part>
					)}
				</section>
			)}
			<div className="flex justify-end gap-2">
				<Button onClick={onClose}>Leave as it is</Button>
				<Button
					look={said?.gone.length ? "danger" : "main"}
					disabled={!said || nothing || preview.isFetching || bringIn.isPending}
					onClick={() =>
						bringIn.mutate(said?.revision ?? 0, {
							onSuccess: () => {
								tell("The codebook is brought in. Ctrl Z takes it back.");
								onClose();
							},
							onError: () => void preview.refetch(),
						})
					}
				>
					{nothing ? "Nothing would change" : how === "merge" ? "Bring in" : "Replace the codebook"}
				</Button>
			</div>
		</Modal>
	);
}

function Part({ title, danger = false, children }: { title: string; danger?: boolean; children: React.ReactNode }) {
	return (
		<>
			<h3 className={`mt-2 font-semibold ${danger ? "text-danger" : "text-spruce"}`}>{title}</h3>
			<ul className="pl-3">{children}</ul>
		</>
	);
}

function short(text: string): string {
	return text.length > 160 ? `${text.slice(0, 158)}…` : text;
}
