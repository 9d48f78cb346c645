import { say } from "../../language/say";
import { KEY_NAMES, type KeyName, keyOf } from "../../project/keymap";
import { useCaps } from "../../project/keys";

const KEYS: KeyName[] = ["play", "back", ...KEY_NAMES.filter((name) => keyOf(name).where === "typing")];

/** The keys of the typing desk beside it: whoever types has no hand free to look them up. */
export function TypingKeys() {
	const capOf = useCaps();
	return (
		<section aria-label={say("Keys of the typing desk")} className="overflow-y-auto p-4 text-[13px]">
			<h3 className="mb-2 font-semibold">{say("Keys")}</h3>
			<dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1.5">
				{KEYS.map((name) => (
					<div key={name} className="contents">
						<dt>
							<kbd>{capOf(name)}</kbd>
						</dt>
						<dd>{keyOf(name).does()}</dd>
					</div>
				))}
			</dl>
			<p className="mt-3 text-quiet">{say("What is typed is kept as one leaves its field, with its times, and can be taken back.")}</p>
		</section>
	);
}
