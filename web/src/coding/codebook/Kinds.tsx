import { KIND_HINTS, KINDS, type Kind } from "../../codes/kinds";
import { say } from "../../language/say";
import { Choice } from "../../ui/Choice";

const ALL: Kind[] = ["describing", "interpreting", ""];

/** What an address says of the codes that are shown: a kind, "" for those that are neither, null for all. */
export function kindIn(said: string | null): Kind | null {
	return ALL.find((one) => (one || "neither") === said) ?? null;
}

/** Which codes are shown: all, or those of one kind. */
export function KindShown({ kind, onChange }: { kind: Kind | null; onChange: (said: string | null) => void }) {
	return (
		<Choice
			as="small"
			name={say("Describing or interpreting")}
			value={kind === null ? "all" : kind || "neither"}
			options={[{ value: "all", label: say("all codes") }, ...ALL.map((one) => ({ value: one || "neither", label: KINDS[one] }))]}
			onChange={(one) => onChange(one === "all" ? null : one)}
		/>
	);
}

/** Says of one code what it is. */
export function KindOfCode({ kind, onChange }: { kind: Kind; onChange: (kind: Kind) => void }) {
	return (
		<Choice
			name={say("Describing or interpreting")}
			value={kind}
			options={ALL.map((one) => ({ value: one, label: KINDS[one], hint: KIND_HINTS[one] }))}
			onChange={onChange}
		/>
	);
}

/** Says it of all ticked codes at once. */
export function KindOfTicked({ onChoose }: { onChoose: (kind: Kind) => void }) {
	return (
		<Choice<Kind | null>
			as="small"
			name={say("What the ticked codes are")}
			value={null}
			shown={say("The ticked are …")}
			options={ALL.map((one) => ({ value: one, label: KINDS[one], hint: KIND_HINTS[one] }))}
			onChange={(one) => one !== null && onChoose(one)}
		/>
	);
}
