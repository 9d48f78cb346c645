import { useState } from "react";
import { Link } from "react-router";
import type { Code } from "../../codes/data";
import { useCodeWrites } from "../../codes/data";
import { NewCode } from "../../codes/NewCode";
import { branches, flat, placesAmong, stepped } from "../../codes/tree";
import { phrase, say } from "../../language/say";
import { MemosOn } from "../../memos/MemosOn";
import { useDraft } from "../../project/draft";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { CODE_COLOURS, codeColour } from "../../ui/palette";
import { counted } from "../../ui/words";
import { KindOfCode } from "./Kinds";

const FIELDS = [
	["definition", say("What it means")],
	["covers", say("What it covers")],
	["excludes", say("What it doesn’t")],
	["example", say("An example")],
] as const;

/** All of one code: name, place, colour, definition, key; and delete. */
export function CodeCard({
	code,
	codes,
	pin,
	onClose,
	whole = false,
}: {
	code: Code;
	codes: Code[];
	pin: number | null;
	onClose: () => void;
	/** It has a column to itself. */
	whole?: boolean;
}) {
	const mayCode = useMayCode();
	const project = useProject();
	const { changeCode, deleteCode, pin: putPin } = useCodeWrites();
	const [adding, setAdding] = useState(false);
	const [said, setSaid] = useDraft(`code ${code.id}`, {
		name: code.name,
		definition: code.definition,
		covers: code.covers,
		excludes: code.excludes,
		example: code.example,
	});
	const beneath = new Set([code.id]);
	for (const { code: other } of flat(branches(codes))) if (other.parent !== null && beneath.has(other.parent)) beneath.add(other.id);
	const places = placesAmong(flat(branches(codes)).filter((branch) => !beneath.has(branch.code.id)));
	const save = (name: keyof typeof said) => said[name] !== code[name] && changeCode.mutate({ id: code.id, [name]: said[name] });
	return (
		<section
			aria-label={say("Code {name}", { name: code.name })}
			className={`${whole ? "" : "max-h-[58%] pane border-t-2 border-spruce"} p-3.5 text-[13px]`}
		>
			<div className="mb-1 flex items-center gap-2">
				<input
					aria-label={say("Name of the code")}
					disabled={!mayCode}
					className="min-w-0 flex-1 rounded px-1 font-serif text-base font-semibold hover:bg-paper2"
					value={said.name}
					onChange={(event) => setSaid({ ...said, name: event.target.value })}
					onBlur={() => save("name")}
					onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
				/>
				<MemosOn on="code" id={code.id} name={code.name} kind="codebook" />
				<button type="button" aria-label={say("Close the card")} className="sign text-quiet hover:text-ink" onClick={onClose}>
					×
				</button>
			</div>
			<p className="quiet-line">
				{phrase(
					"{passages, plural, one {# passage} other {# passages}} by {people} in {documents, plural, one {# document} other {# documents}}. <link>Read them</link> · <link2>Compare it</link2>",
					{
						passages: code.passages,
						people: counted(code.people, project.case_one, project.case_many),
						documents: code.documents,
						link: (inner) => (
							<Link className="font-semibold text-spruce hover:underline" to={`/projects/${project.id}/code/codebook?open=${code.id}`}>
								{inner}
							</Link>
						),
						link2: (inner) => (
							<Link className="font-semibold text-spruce hover:underline" to={`/projects/${project.id}/compare?codes=${code.id}`}>
								{inner}
							</Link>
						),
					},
				)}
			</p>
			{FIELDS.map(([name, label]) => (
				<label key={name} className="mt-2 block font-semibold">
					{label}
					<textarea
						rows={name === "definition" ? 3 : 2}
						disabled={!mayCode}
						className="field mt-0.5 w-full font-normal"
						value={said[name]}
						onChange={(event) => setSaid({ ...said, [name]: event.target.value })}
						onBlur={() => save(name)}
					/>
				</label>
			))}
			{mayCode && (
				<>
					<div className="mt-2 font-semibold">
						{say("Beneath")}
						<div className="mt-0.5 font-normal">
							<Choice
								name={say("Beneath")}
								value={code.parent ?? 0}
								options={places}
								onChange={(parent) => changeCode.mutate({ id: code.id, parent: parent || null })}
							/>
						</div>
						<div className="mt-1 flex gap-1.5 font-normal">
							{([-1, 1] as const).map((by) => {
								const before = stepped(codes, code.id, by);
								return (
									<Button
										key={by}
										disabled={before === undefined || changeCode.isPending}
										title={say("Among the codes beneath the same one; dragging it onto the upper edge of another does it too")}
										onClick={() => changeCode.mutate({ id: code.id, parent: code.parent, ...(before && { before }) })}
									>
										{by < 0 ? say("One place up") : say("One place down")}
									</Button>
								);
							})}
						</div>
					</div>
					<div className="mt-2 font-semibold">
						{say("Describing or interpreting")}
						<div className="mt-0.5 font-normal">
							<KindOfCode kind={code.kind} onChange={(kind) => changeCode.mutate({ id: code.id, kind })} />
						</div>
					</div>
					<div className="mt-2 font-semibold">
						{say("Key")}
						<div className="mt-0.5 font-normal">
							<Choice
								name={say("Key")}
								value={pin ?? 0}
								options={[
									{ value: 0, label: say("not pinned") },
									...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((key) => ({ value: key, label: say("key {key}", { key }) })),
								]}
								onChange={(key) => (key === 0 ? pin && putPin.mutate({ key: pin, code: null }) : putPin.mutate({ key, code: code.id }))}
							/>
						</div>
					</div>
					<Scale key={`${code.scale_low} ${code.scale_high}`} code={code} />
					<fieldset className="mt-2 min-w-0">
						<legend className="font-semibold">{say("Colour")}</legend>
						<div className="mt-1 flex flex-wrap gap-1">
							{Array.from({ length: CODE_COLOURS }, (_, index) => (
								<button
									// biome-ignore lint/suspicious/noArrayIndexKey: the place is the colour
									key={index}
									type="button"
									aria-label={say("Colour {index}", { index: index + 1 })}
									aria-pressed={code.colour === index}
									className={`size-[24px] rounded ${code.colour === index ? "ring-2 ring-ink ring-offset-1" : ""}`}
									style={{ background: codeColour(index) }}
									onClick={() => changeCode.mutate({ id: code.id, colour: index })}
								/>
							))}
						</div>
					</fieldset>
					<div className="mt-3 flex gap-2">
						<Button onClick={() => setAdding(true)}>{say("Add beneath …")}</Button>
						{adding && <NewCode codes={codes} beneath={code.id} onClose={() => setAdding(false)} />}
						<Button
							look="danger"
							onClick={() => deleteCode.mutate(code.id, { onSuccess: onClose })}
							title={say("With the codes beneath it and their codings; undo brings all of it back")}
						>
							{say("Delete")}
						</Button>
					</div>
				</>
			)}
		</section>
	);
}

/** The two ends of a rating scale, for codes that come in degrees. */
function Scale({ code }: { code: Code }) {
	const { changeCode } = useCodeWrites();
	const [low, setLow] = useState(code.scale_low);
	const [high, setHigh] = useState(code.scale_high);
	const save = () => {
		const both = low.trim() && high.trim();
		const none = !low.trim() && !high.trim();
		if ((both || none) && (low !== code.scale_low || high !== code.scale_high))
			changeCode.mutate({ id: code.id, scale_low: low.trim(), scale_high: high.trim() });
	};
	return (
		<fieldset className="mt-2 min-w-0">
			<legend className="font-semibold">{say("Rating, from 1 to 5")}</legend>
			<div className="mt-0.5 flex items-center gap-1.5">
				<input
					aria-label={say("Low end of the scale")}
					placeholder={say("such as: barely")}
					className="field w-0 min-w-0 flex-1"
					value={low}
					onChange={(event) => setLow(event.target.value)}
					onBlur={save}
				/>
				{say("to")}
				<input
					aria-label={say("High end of the scale")}
					placeholder={say("such as: all the time")}
					className="field w-0 min-w-0 flex-1"
					value={high}
					onChange={(event) => setHigh(event.target.value)}
					onBlur={save}
				/>
			</div>
			<p className="mt-0.5 text-[12px] text-quiet">{say("Name both ends and its codings can be rated; leave both empty for none.")}</p>
		</fieldset>
	);
}
