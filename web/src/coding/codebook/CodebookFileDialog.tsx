import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import { ENDINGS } from "../../api/grammar.gen";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { type CodebookHow, useCodebookFile } from "../overview";

const WAYS: { how: CodebookHow; label: string; says: string }[] = [
	{ how: "merge", label: say("Merge into the codebook"), says: say("Takes over what the file says; what it doesn’t mention stays.") },
	{
		how: "replace",
		label: say("Put it in place of the codebook"),
		says: say("The codebook becomes what the file says. Codes that it lacks go, with their codings."),
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
		<Modal title={say("Bring in a codebook")} onClose={onClose} wide>
			<div className="mb-3 flex flex-wrap items-center gap-3">
				<input
					ref={chooser}
					type="file"
					aria-label={say("File with a codebook")}
					accept={ENDINGS.codebooks.map((ending) => `.${ending}`).join(",")}
					className="sr-only"
					onChange={(event) => setFile(event.target.files?.[0] ?? null)}
				/>
				<Button look={file ? "plain" : "main"} onClick={() => chooser.current?.click()}>
					<FileUp size={15} /> {file ? say("Another file") : say("Choose a file")}
				</Button>
				<span className="quiet-line">
					{file ? file.name : say("A sheet with a row a code (.xlsx, .csv; columns Code and Beneath), or .qdc from another program.")}
				</span>
			</div>
			<fieldset className="mb-3">
				<legend className="sr-only">{say("What to do with it")}</legend>
				{WAYS.map((way) => (
					<label key={way.how} className="flex min-h-7 items-baseline gap-2">
						<input type="radio" name="how" checked={how === way.how} onChange={() => setHow(way.how)} />
						<span>
							<b>{way.label}</b> <span className="text-quiet">{way.says}</span>
						</span>
					</label>
				))}
			</fieldset>
			{preview.isFetching && <p className="quiet-line">{say("Reading the file …")}</p>}
			{preview.error && (
				<p role="alert" className="mb-2 text-danger">
					{preview.error.message}
				</p>
			)}
			{said && (
				<section
					aria-label={say("What will happen")}
					className="mb-3 max-h-[46vh] pane rounded-md border border-line px-3 py-2 text-[13.4px]"
				>
					<p className="mb-1 font-semibold">
						{say(
							"{codes, plural, one {# code} other {# codes}} in the file: {new} new, {changes, plural, one {# change} other {# changes}} to those you have, {same} the same",
							{ codes: said.codes, new: said.new.length, changes: said.changed.length, same: said.same },
						)}
						{said.gone.length > 0 && say("; {gone} of yours go", { gone: said.gone.length })}
					</p>
					{said.gone.length > 0 && (
						<Part title={say("Would go, with {codings, plural, one {# coding} other {# codings}}", { codings: lost })} danger>
							{said.gone.map((one) => (
								<li key={one.name}>
									{one.name}{" "}
									<span className="text-quiet">
										{say("{passages, plural, one {# passage} other {# passages}}", { passages: one.passages })}
									</span>
								</li>
							))}
						</Part>
					)}
					{said.new.length > 0 && (
						<Part title={say("New")}>
							{said.new.slice(0, SHOWN).map((one, place) => (
								// biome-ignore lint/suspicious/noArrayIndexKey: a name may stand at several places
								<li key={place}>
									{one.name} {one.beneath && <span className="text-quiet">{say("beneath {beneath}", { beneath: one.beneath })}</span>}
								</li>
							))}
							{said.new.length > SHOWN && <li className="text-quiet">{say("and {new} more", { new: said.new.length - SHOWN })}</li>}
						</Part>
					)}
					{said.changed.length > 0 && (
						<Part title={say("Would say something else")}>
							{said.changed.slice(0, SHOWN).map((one) => (
								<li key={`${one.name} ${one.what}`}>
									<b className="font-semibold">{one.name}</b>, {one.what}:{" "}
									{one.before && <del className="text-quiet">{short(one.before)}</del>}{" "}
									{one.after ? <ins className="no-underline">{short(one.after)}</ins> : <i className="text-quiet">{say("emptied")}</i>}
								</li>
							))}
							{said.changed.length > SHOWN && (
								<li className="text-quiet">{say("and {changed} more", { changed: said.changed.length - SHOWN })}</li>
							)}
						</Part>
					)}
					{said.themes.length > 0 && (
						<Part title={say("Themes, made where they aren’t there yet")}>
							<li>{said.themes.join(" · ")}</li>
						</Part>
					)}
					{said.warnings.length > 0 && (
						<Part title={say("Worth a look")}>
							{said.warnings.map((line) => (
								<li key={line}>{line}</li>
							))}
						</Part>
					)}
				</section>
			)}
			<div className="flex justify-end gap-2">
				<Button onClick={onClose}>{say("Leave as it is")}</Button>
				<Button
					look={said?.gone.length ? "danger" : "main"}
					disabled={!said || nothing || preview.isFetching || bringIn.isPending}
					onClick={() =>
						bringIn.mutate(said?.revision ?? 0, {
							onSuccess: () => {
								tell(say("The codebook is brought in. Ctrl Z takes it back."));
								onClose();
							},
							onError: () => void preview.refetch(),
						})
					}
				>
					{nothing ? say("Nothing would change") : how === "merge" ? say("Bring in") : say("Replace the codebook")}
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
