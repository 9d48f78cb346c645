import { createContext, type KeyboardEvent, type ReactNode, useContext, useState } from "react";
import { useLocation } from "react-router";
import { phrase, say } from "../language/say";
import { KEY_NAMES, type KeyName, keyOf, type Where } from "../project/keymap";
import { capOf, changeKey, resetKeys, turnSingleKeys, useKeys, usePageKeys } from "../project/keys";
import { Modal } from "../ui/Modal";

const HEADS: Record<Where, () => string> = {
	text: () => say("In the text"),
	answers: () => say("In the list of answers"),
	line: () => say("In the coding line"),
	recording: () => say("With a recording"),
	span: () => say("On a span along a recording"),
	typing: () => say("At the typing desk"),
	region: () => say("On a region of a picture or page"),
	everywhere: () => say("Everywhere"),
};
/** What each page has, first what is its own. */
const AT: [RegExp, Where[], () => string][] = [
	[/\/code\/answers/, ["answers", "line", "everywhere"], () => say("Keys on the answers sheet")],
	[/\/code(\/\d+)?$/, ["text", "line", "recording", "typing", "span", "region", "everywhere"], () => say("Keys at the reading desk")],
	[/./, ["everywhere", "text", "line", "answers", "recording", "typing", "span", "region"], () => say("Keys")],
];

const Showing = createContext<() => void>(() => undefined);

/** Opens the list of keys. */
export function useShowKeys(): () => void {
	return useContext(Showing);
}

/** The list of keys over any page, by its key, from the account's menu or the coding line. */
export function KeysOver({ children }: { children: ReactNode }) {
	const [open, setOpen] = useState(false);
	// In a field the sign is typed, but for the empty coding line.
	usePageKeys({ help: () => setOpen(true) }, ({ target }) => isField(target) && !(target.value === "" && target.dataset.line));
	return (
		<Showing value={() => setOpen(true)}>
			{children}
			{open && <Keys onClose={() => setOpen(false)} />}
		</Showing>
	);
}

function isField(target: EventTarget | null): target is HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement {
	return target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;
}

/** All keys of a page, from the one list of them; a single letter or sign can be another. */
function Keys({ onClose }: { onClose: () => void }) {
	const { pathname } = useLocation();
	const [, places, title] = AT.find(([path]) => path.test(pathname)) as (typeof AT)[number];
	const { on, instead } = useKeys();
	const [changing, setChanging] = useState<KeyName | null>(null);
	const [refused, setRefused] = useState<string | null>(null);
	// Whoever has changed a key goes on from where they were.
	const [changed, setChanged] = useState<KeyName | null>(null);
	const leave = () => {
		setRefused(null);
		setChanging(null);
	};
	return (
		<Modal title={title()} wide="very" onClose={onClose}>
			<label className="mb-2 flex items-start gap-2">
				<input type="checkbox" className="mt-1 accent-spruce" checked={on} onChange={(event) => turnSingleKeys(event.target.checked)} />
				<span>
					{phrase(
						"Single letters, digits and signs do something by themselves<span>Off, only arrows, Enter, Tab, Esc and keys with Ctrl or Alt do: for who speaks to the computer, or touches keys by chance. <i>Keys</i> in the account’s menu turns them on again.</span>",
						{ span: (inner) => <span className="block quiet-line">{inner}</span>, i: (inner) => <i>{inner}</i> },
					)}
				</span>
			</label>
			<p className="mb-2 quiet-line">
				{say("A key with a dashed edge can be another: press it here.")}{" "}
				{Object.keys(instead).length > 0 && (
					<button type="button" className="text-spruce hover:underline" onClick={resetKeys}>
						{say("All as they were")}
					</button>
				)}
			</p>
			<div className="gap-8 min-[760px]:columns-2">
				{places.map((where) => (
					<section key={where} className="mb-3" aria-label={HEADS[where]()}>
						<h3 className="mb-1 break-after-avoid text-[12.6px] font-semibold text-quiet">{HEADS[where]()}</h3>
						<dl>
							{KEY_NAMES.filter((name) => keyOf(name).where === where).map((name) => (
								<div key={name} className="grid break-inside-avoid grid-cols-[128px_minmax(0,1fr)] items-baseline py-0.5 leading-snug">
									<dt>
										{keyOf(name).single && changing !== name ? (
											<button
												type="button"
												autoFocus={changed === name}
												aria-label={say("{key}: change this key", { key: capOf(name) })}
												className="rounded"
												onClick={() => {
													setChanged(null);
													setChanging(name);
												}}
											>
												<kbd className="border-dashed! border-spruce!">{capOf(name)}</kbd>
											</button>
										) : (
											changing !== name && <kbd>{capOf(name)}</kbd>
										)}
										{changing === name && (
											<Another
												name={name}
												refused={refused}
												onRefused={setRefused}
												onDone={() => {
													leave();
													setChanged(name);
												}}
												onLeave={leave}
											/>
										)}
									</dt>
									<dd>
										{keyOf(name).does()}
										{changing === name && refused && (
											<small id="key-refused" role="alert" className="block text-[12.4px] text-danger">
												{refused}
											</small>
										)}
										{keyOf(name).single === "letter" && (
											<span className="quiet-line"> {say("(with words chosen: {key})", { key: `Alt ${capOf(name)}` })}</span>
										)}
									</dd>
								</div>
							))}
						</dl>
					</section>
				))}
			</div>
		</Modal>
	);
}

/** Waits for the next key. */
function Another({
	name,
	refused,
	onRefused,
	onDone,
	onLeave,
}: {
	name: KeyName;
	refused: string | null;
	onRefused: (why: string | null) => void;
	/** The key is another, or stays as it was. */
	onDone: () => void;
	/** Something else has the keys of the page now. */
	onLeave: () => void;
}) {
	const take = (event: KeyboardEvent) => {
		if (["Shift", "Control", "Alt", "AltGraph", "Meta", "Tab"].includes(event.key)) return;
		event.preventDefault();
		event.stopPropagation();
		const why = event.key === "Escape" ? null : changeKey(name, event.key);
		onRefused(why);
		if (why === null) onDone();
	};
	return (
		<input
			readOnly
			autoFocus
			aria-label={say("The new key for “{does}”", { does: keyOf(name).does() })}
			aria-invalid={refused !== null}
			aria-describedby={refused ? "key-refused" : undefined}
			value=""
			placeholder={say("Press a key")}
			className="field w-28 px-1.5 text-[12.6px]"
			onKeyDown={take}
			onBlur={onLeave}
		/>
	);
}
