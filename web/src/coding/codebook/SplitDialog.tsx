import { useState } from "react";
import type { Code } from "../../codes/data";
import { Quoted } from "../../evidence/Quoted";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import { Loading } from "../../ui/Empty";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { useOverviewWrites, useReading } from "../overview";

/** One code made several: read passage by passage, each put into one of the new codes, or more, or left. */
export function SplitDialog({ code, onClose }: { code: Code; onClose: (done: boolean) => void }) {
	const { tell } = useToasts();
	const { split } = useOverviewWrites();
	const reading = useReading("code", code.id, true).data;
	const [names, setNames] = useState(["", ""]);
	const [to, setTo] = useState<Record<number, number[]>>({});
	const passages = [
		...new Map((reading?.persons ?? []).flatMap((person) => person.passages.map((one) => [one.id, { ...one, who: person.identifier }]))),
	].map(([, one]) => one);
	const named = names.map((name) => name.trim());
	const ready = named.filter(Boolean).length > 0 && Object.values(to).every((places) => places.every((place) => named[place]));
	const toggle = (passage: number, place: number) => {
		const now = to[passage] ?? [];
		setTo({ ...to, [passage]: now.includes(place) ? now.filter((one) => one !== place) : [...now, place] });
	};
	const placed = Object.values(to).filter((places) => places.length).length;
	const save = () => {
		const used = named.flatMap((name, place) => (name ? [place] : []));
		const moves = Object.entries(to).map(([passage, places]) => ({
			passage: Number(passage),
			to: places.map((place) => used.indexOf(place)),
		}));
		split.mutate(
			{ code: code.id, names: used.map((place) => named[place] as string), moves },
			{
				onSuccess: () => {
					tell(say("Split “{name}”. Ctrl Z takes it back.", { name: code.name }));
					onClose(true);
				},
			},
		);
	};
	return (
		<Modal title={say("Split “{name}”", { name: code.name })} wide onClose={() => onClose(false)}>
			<p className="mb-2 quiet-line">
				{say("Name the new codes, then read: a passage goes where you tick it, to several if you like. What you don’t tick stays.")}
			</p>
			<div className="mb-3 flex flex-wrap items-center gap-2">
				{names.map((name, place) => (
					// biome-ignore lint/suspicious/noArrayIndexKey: a new code is its place until it is made
					<label key={place} className="flex items-center gap-1.5">
						<kbd>{place + 1}</kbd>
						<input
							aria-label={say("Name of new code {place}", { place: place + 1 })}
							className="field w-44"
							value={name}
							onChange={(event) => setNames(names.map((one, at) => (at === place ? event.target.value : one)))}
						/>
					</label>
				))}
				<Button look="plain" onClick={() => setNames([...names, ""])}>
					{say("One more")}
				</Button>
			</div>
			{!reading && <Loading what={say("its passages")} />}
			<ol className="max-h-[46vh] pane border-y border-line">
				{passages.map((passage) => (
					<li key={passage.id} className="grid cols-[minmax(0,1fr)_auto] gap-3 border-b border-line2 py-2 last:border-b-0">
						<p className="font-serif leading-snug" dir="auto">
							<span className="text-quiet">{passage.before}</span> <Quoted passage={passage} />{" "}
							<span className="text-quiet">{passage.after}</span>
							<span className="block font-sans text-xs text-quiet">{passage.who}</span>
						</p>
						<fieldset className="flex items-start gap-1 pr-2">
							<legend className="sr-only">{say("Where “{text}” goes", { text: passage.text.slice(0, 40) })}</legend>
							{names.map((name, place) => (
								<button
									// biome-ignore lint/suspicious/noArrayIndexKey: a new code is its place until it is made
									key={place}
									type="button"
									aria-pressed={to[passage.id]?.includes(place) ?? false}
									title={name || say("New code {place}", { place: place + 1 })}
									aria-label={say("Into {name}", { name: name || say("new code {place}", { place: place + 1 }) })}
									className={`min-w-7 rounded border px-1.5 py-0.5 font-sans text-[12.6px] font-semibold ${to[passage.id]?.includes(place) ? "border-spruce bg-spruce text-on-spruce" : "border-line text-quiet hover:border-quiet"}`}
									onClick={() => toggle(passage.id, place)}
								>
									{place + 1}
								</button>
							))}
						</fieldset>
					</li>
				))}
			</ol>
			<div className="mt-3 flex items-center justify-end gap-2">
				<span className="mr-auto quiet-line">
					{say("{placed} of {passages, plural, one {# passage} other {# passages}} placed; the others stay with “{name}”", {
						placed,
						passages: passages.length,
						name: code.name,
					})}
				</span>
				<Button onClick={() => onClose(false)}>{say("Leave as it is")}</Button>
				<Button look="main" disabled={!ready || split.isPending} onClick={save}>
					{say("Split")}
				</Button>
			</div>
		</Modal>
	);
}
