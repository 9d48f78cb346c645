import { useState } from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { useMergePreview, useOverviewWrites } from "../overview";

/** Several codes made one, with what that does said before. */
export function MergeDialog({ codes, onClose }: { codes: Code[]; onClose: (done: boolean) => void }) {
	const { tell } = useToasts();
	const { merge } = useOverviewWrites();
	const most = [...codes].sort((a, b) => b.passages - a.passages)[0] as Code;
	const [into, setInto] = useState(most.id);
	const others = codes.filter((code) => code.id !== into);
	const kept = codes.find((code) => code.id === into) as Code;
	const [ratings, setRatings] = useState<"keep" | "drop">();
	const preview = useMergePreview(
		into,
		others.map((code) => code.id),
	).data;
	const otherwise = preview?.codes.reduce((sum, one) => sum + one.rated_otherwise, 0) ?? 0;
	return (
		<Modal title={say("Merge codes")} onClose={() => onClose(false)}>
			<div className="mb-3 flex items-center gap-2">
				{say("Keep")}
				<Choice name={say("Keep")} value={into} options={codes.map((code) => ({ value: code.id, label: code.name }))} onChange={setInto} />
			</div>
			<p className="mb-2">
				{say(
					"{others} {others2, plural, one {goes} other {go}} into “{name}”: codings, codes beneath, places in themes, memos and definitions.",
					{ others: others.map((code) => `“${code.name}”`).join(", "), others2: others.length, name: kept.name },
				)}
			</p>
			{preview && (
				<table className="mb-3 w-full text-[13.4px]">
					<tbody>
						<tr>
							<td>{kept.name}</td>
							<td className="text-right">
								{say("{passages, plural, one {# passage} other {# passages}}", { passages: preview.passages })}
							</td>
							<td />
						</tr>
						{preview.codes.map((one) => (
							<tr key={one.code}>
								<td>{codes.find((code) => code.id === one.code)?.name}</td>
								<td className="text-right">{say("{passages, plural, one {# passage} other {# passages}}", { passages: one.passages })}</td>
								<td className="pl-3 text-quiet">
									{one.both > 0 && say("{both} of them carry “{name}” too: each counts once", { both: one.both, name: kept.name })}
									{one.beneath > 0 && say(" {codes, plural, one {# code} other {# codes}} beneath", { codes: one.beneath })}
								</td>
							</tr>
						))}
						<tr className="font-semibold [&>td]:border-t [&>td]:border-line">
							<td>{say("together")}</td>
							<td className="text-right">
								{say("{passages, plural, one {# passage} other {# passages}}", { passages: preview.together })}
							</td>
							<td />
						</tr>
					</tbody>
				</table>
			)}
			{preview && otherwise > 0 && (
				<fieldset className="mb-3 rounded-md border border-line bg-paper2 px-3 py-2">
					<legend className="px-1 font-semibold">{say("Ratings on another scale")}</legend>
					<p className="mb-1">
						{say(
							"{ratings, plural, one {# rating} other {# ratings}} {ratings, plural, one {was} other {were}} not given from “{scale_low}” to “{scale_high}”, as the merged code is rated.",
							{ ratings: otherwise, scale_low: preview.scale_low, scale_high: preview.scale_high },
						)}
					</p>
					{(["keep", "drop"] as const).map((way) => (
						<label key={way} className="flex items-center gap-1.5">
							<input type="radio" name="ratings" checked={ratings === way} onChange={() => setRatings(way)} />
							{way === "keep" ? say("They keep their numbers; 4 of 5 stays 4 of 5") : say("They are dropped; the codings stay")}
						</label>
					))}
				</fieldset>
			)}
			<div className="flex justify-end gap-2">
				<Button onClick={() => onClose(false)}>{say("Leave as it is")}</Button>
				<Button
					look="main"
					disabled={merge.isPending || !preview || (otherwise > 0 && !ratings)}
					onClick={() =>
						merge.mutate(
							{ into, codes: others.map((code) => code.id), ...(otherwise > 0 ? { ratings } : {}) },
							{
								onSuccess: () => {
									tell(say("Merged into “{name}”. Ctrl Z takes it back.", { name: kept.name }));
									onClose(true);
								},
							},
						)
					}
				>
					{say("Merge into “{name}”", { name: kept.name })}
				</Button>
			</div>
		</Modal>
	);
}
