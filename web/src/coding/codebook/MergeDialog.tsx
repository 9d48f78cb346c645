import { useState } from "react";
import type { Code } from "../../codes/data";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { counted } from "../../ui/words";
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
		<Modal title="Merge codes" onClose={() => onClose(false)}>
			<div className="mb-3 flex items-center gap-2">
				Keep
				<Choice name="Keep" value={into} options={codes.map((code) => ({ value: code.id, label: code.name }))} onChange={setInto} />
			</div>
			<p className="mb-2">
				{others.map((code) => `“${code.name}”`).join(", ")} {others.length === 1 ? "goes" : "go"} into “{kept.name}”: codings, codes
				beneath, places in themes, memos and definitions.
			</p>
			{preview && (
				<table className="mb-3 w-full text-[13.4px]">
					<tbody>
						<tr>
							<td>{kept.name}</td>
							<td className="text-right">{counted(preview.passages, "passage")}</td>
							<td />
						</tr>
						{preview.codes.map((one) => (
							<tr key={one.code}>
								<td>{codes.find((code) => code.id === one.code)?.name}</td>
								<td className="text-right">{counted(one.passages, "passage")}</td>
								<td className="pl-3 text-quiet">
									{one.both > 0 && `${one.both} of them carry “${kept.name}” too: each counts once`}
									{one.beneath > 0 && ` ${counted(one.beneath, "code")} beneath`}
								</td>
							</tr>
						))}
						<tr className="font-semibold [&>td]:border-t [&>td]:border-line">
							<td>together</td>
							<td className="text-right">{counted(preview.together, "passage")}</td>
							<td />
						</tr>
					</tbody>
				</table>
			)}
			{preview && otherwise > 0 && (
				<fieldset className="mb-3 rounded-md border border-line bg-paper2 px-3 py-2">
					<legend className="px-1 font-semibold">Ratings on another scale</legend>
					<p className="mb-1">
						{counted(otherwise, "rating")} {otherwise === 1 ? "was" : "were"} not given from “{preview.scale_low}” to “{preview.scale_high}
						”, as the merged code is rated.
					</p>
					{(["keep", "drop"] as const).map((way) => (
						<label key={way} className="flex items-center gap-1.5">
							<input type="radio" name="ratings" checked={ratings === way} onChange={() => setRatings(way)} />
							{way === "keep" ? "They keep their numbers; 4 of 5 stays 4 of 5" : "They are dropped; the codings stay"}
						</label>
					))}
				</fieldset>
			)}
			<div className="flex justify-end gap-2">
				<Button onClick={() => onClose(false)}>Leave as it is</Button>
				<Button
					look="main"
					disabled={merge.isPending || !preview || (otherwise > 0 && !ratings)}
					onClick={() =>
						merge.mutate(
							{ into, codes: others.map((code) => code.id), ...(otherwise > 0 ? { ratings } : {}) },
							{
								onSuccess: () => {
									tell(`Merged into “${kept.name}”. Ctrl Z takes it back.`);
									onClose(true);
								},
							},
						)
					}
				>
					Merge into “{kept.name}”
				</Button>
			</div>
		</Modal>
	);
}
