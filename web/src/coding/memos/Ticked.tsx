import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import type { ReactNode } from "react";
import { say } from "../../language/say";
import { takeOutMemos, useKinds, useMemoWrites, useThings } from "../../memos/data";
import type { AnyKind } from "../../memos/memos";
import { useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Seek } from "../../ui/Seek";
import { useToasts } from "../../ui/toasts";

const ENDINGS = ["docx", "xlsx", "md"];

/** These memos as a file, in each form. */
export function TakeOutMemos({ memos, name }: { memos: number[]; name: string }) {
	const { id } = useProject();
	const { warn } = useToasts();
	return (
		<span className="flex items-center gap-2 text-[13px] text-quiet print:hidden">
			{name}
			{ENDINGS.map((ending) => (
				<button
					key={ending}
					type="button"
					disabled={!memos.length}
					className="inline-flex min-h-6 items-center font-semibold text-spruce hover:underline disabled:opacity-50"
					aria-label={say("{name} .{ending}", { name, ending })}
					title={say("What they say, with what they are on beside it")}
					onClick={() => void takeOutMemos(id, memos, ending).catch((error: Error) => warn(error.message))}
				>
					.{ending}
				</button>
			))}
		</span>
	);
}

function Opens({ name, children }: { name: string; children: (close: () => void) => ReactNode }) {
	return (
		<Popover>
			<PopoverButton className="inline-flex items-center gap-1 rounded-md border border-line bg-card px-2.5 py-1 text-[13px] font-semibold hover:border-quiet">
				{name}
				<ChevronDown size={13} className="text-quiet" aria-hidden="true" />
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 4 }}
				className="z-50 max-h-96 w-72 overflow-auto rounded-lg border border-line bg-card p-1.5 text-[13.4px] shadow-lg focus:outline-none"
			>
				{({ close }) => <>{children(close)}</>}
			</PopoverPanel>
		</Popover>
	);
}

function KindMenu({ name, onChoose }: { name: string; onChoose: (kind: AnyKind) => void }) {
	const kinds = useKinds();
	return (
		<Opens name={name}>
			{(close) =>
				kinds.map((one) => (
					<button
						key={one.value}
						type="button"
						className="block w-full rounded px-2 py-1 text-left hover:bg-spruce-soft focus-visible:bg-spruce-soft"
						onClick={() => {
							onChoose(one.value);
							close();
						}}
					>
						{one.label}
					</button>
				))
			}
		</Opens>
	);
}

/** What can be done with all ticked memos at once; each is one step that undo takes back. */
export function TickedMemos({ memos, mayChange, onDone }: { memos: number[]; mayChange: boolean; onDone: () => void }) {
	const { changeMany } = useMemoWrites();
	const { tell } = useToasts();
	const all = (said: object) =>
		changeMany.mutate(
			{ memos, ...said },
			{ onSuccess: ({ count }) => tell(say("Changed {count, plural, one {# memo} other {# memos}}. Ctrl Z takes it back.", { count })) },
		);
	return (
		<section
			aria-label={say("With the ticked memos")}
			className="mb-2 flex flex-wrap items-center gap-2 rounded-md border border-line bg-paper2 px-2.5 py-1.5"
		>
			<span className="text-[13px] font-semibold">{say("{n, plural, one {# memo} other {# memos}} ticked", { n: memos.length })}</span>
			{mayChange && (
				<>
					<KindMenu name={say("Give a kind")} onChoose={(kind) => all({ give: [kind] })} />
					<KindMenu name={say("Take a kind off")} onChoose={(kind) => all({ take: [kind] })} />
					<Opens name={say("Put them on …")}>
						{(close) => (
							<PutOn
								onChoose={(put_on, put_on_id) => {
									all(put_on === "project" ? { put_on } : { put_on, put_on_id });
									close();
								}}
							/>
						)}
					</Opens>
				</>
			)}
			<TakeOutMemos memos={memos} name={say("Take the ticked out as")} />
			<Button look="plain" onClick={onDone}>
				{say("Untick all")}
			</Button>
		</section>
	);
}

/** Something that memos can be put on: looked for by its name, or the project as a whole. */
function PutOn({ onChoose }: { onChoose: (on: string, id?: number) => void }) {
	const things = useThings(true).filter((one) => one.thing !== "memo");
	return (
		<Seek
			name={say("Put the memos on")}
			placeholder={say("A code, a person, a document …")}
			nothing={say("Nothing is called so.")}
			always={[{ value: "project", label: say("The project as a whole") }]}
			options={things.map((one) => ({ value: `${one.thing} ${one.id}`, label: one.name, hint: one.kind }))}
			className="w-full"
			onChange={(said) => {
				const [on, id] = said.split(" ");
				onChoose(String(on), Number(id));
			}}
		/>
	);
}
