import { useState } from "react";
import { say } from "../language/say";
import { Choice } from "../ui/Choice";
import { type Staged, useStagedWrites } from "./data";

/** A picture or recording that waits: its name, what it looks like, and the text that belongs to it. */
export function MediaReading({ row, rows }: { row: Staged; rows: Staged[] }) {
	const { correct } = useStagedWrites();
	const [title, setTitle] = useState(row.choices.title || row.name.replace(/\.\w+$/, ""));
	const texts = rows.filter((one) => one.kind === "transcript" && !one.problem);
	return (
		<div className="mb-3 rounded-lg border border-line bg-card p-4">
			<label className="block text-[13px] font-semibold">
				{say("Name of the document")}
				<input
					className="field mt-1 w-full font-normal"
					value={title}
					onChange={(event) => setTitle(event.target.value)}
					onBlur={() => title !== row.choices.title && correct.mutate({ id: row.id, choices: { ...row.choices, title } })}
				/>
			</label>
			<p className="mt-2 quiet-line">
				{row.kind === "image"
					? say("A picture, read as {format}.", { format: row.format })
					: say("A recording, read as {format}.", { format: row.format })}
			</p>
			{row.thumbnail && (
				<img src={row.thumbnail} alt={say("{name}, small", { name: row.name })} className="mt-3 rounded border border-line" />
			)}
			{row.kind === "recording" && (
				<div className="mt-3 text-[13px] font-semibold">
					{say("Its text, with times")}
					<div className="mt-1 font-normal">
						<Choice
							name={say("Text of the recording")}
							value={row.partner ?? 0}
							options={[
								{ value: 0, label: say("None: it is kept to be listened to") },
								...texts.map((one) => ({ value: one.id, label: one.name, hint: one.format })),
							]}
							onChange={(text) => correct.mutate({ id: row.id, choices: { ...row.choices, text } })}
						/>
					</div>
					<p className="mt-1 font-normal text-quiet">
						{say("A .vtt or .srt of the same name is taken by itself. Playing follows its turns.")}
					</p>
				</div>
			)}
		</div>
	);
}
