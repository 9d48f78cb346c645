import { useState } from "react";
import { useNavigate } from "react-router";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { scopeRequest, useScope } from "../../project/scope";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import type { Kept } from "../kept/kept";
import type { Blocks } from "../passages/blocks";
import type { Question } from "../spec";
import { shownOf, type View } from "../view";
import { useFrozenWrites } from "./frozen";

/** Give the result as it is today a name, and keep it so. */
export function Freeze({ question, view, here, onClose }: { question: Question; view: View; here: Kept | undefined; onClose: () => void }) {
	const { freeze } = useFrozenWrites();
	const opened = useOpened();
	return (
		<Naming
			title={say("Freeze this result")}
			usual={here?.name ?? ""}
			placeholder={say("such as: For the report of March")}
			onName={(name) =>
				freeze.mutate(
					{ name, asked: question, shown: shownOf(view), comparison: here?.id ?? null },
					{ onSuccess: ({ count }) => opened(name, count) },
				)
			}
			onClose={onClose}
		>
			{say("A frozen result never changes: figures, conditions and passages stay as they are today. It says later what has changed since.")}
		</Naming>
	);
}

/** The same for what conditions on passages find. */
export function FreezeFound({ blocks, name }: { blocks: Blocks; name: string }) {
	const { freezePassages } = useFrozenWrites();
	const { scope } = useScope();
	const opened = useOpened();
	const [asking, setAsking] = useState(false);
	return (
		<>
			<Button onClick={() => setAsking(true)}>{say("Freeze")}</Button>
			{asking && (
				<Naming
					title={say("Freeze these passages")}
					usual={name}
					placeholder={say("such as: Late, as of March")}
					onName={(said) =>
						freezePassages.mutate(
							{ name: said, asked: { blocks, scope: scopeRequest(scope) } },
							{ onSuccess: ({ count }) => opened(said, count) },
						)
					}
					onClose={() => setAsking(false)}
				>
					{say(
						"The passages stay as they are found today, with their words and who said them. Later it says which came in and which went out.",
					)}
				</Naming>
			)}
		</>
	);
}

/** Tell that something is frozen, and go there. */
function useOpened() {
	const { id } = useProject();
	const navigate = useNavigate();
	const { tell } = useToasts();
	return (name: string, frozen: number) => {
		tell(say("“{name}” is frozen as it is today.", { name: name.trim() }));
		void navigate(`/projects/${id}/compare/frozen/${frozen}`);
	};
}

interface NamingProps {
	title: string;
	usual: string;
	placeholder: string;
	onName: (name: string) => void;
	onClose: () => void;
	children: React.ReactNode;
}

function Naming({ title, usual, placeholder, onName, onClose, children }: NamingProps) {
	const [name, setName] = useState(usual);
	return (
		<Modal title={title} onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					onName(name);
				}}
			>
				<input
					aria-label={say("Name of the frozen result")}
					className="field mb-2 w-full"
					placeholder={placeholder}
					value={name}
					maxLength={160}
					onChange={(event) => setName(event.target.value)}
					autoFocus
				/>
				<p className="mb-3 text-[13px] text-quiet">{children}</p>
				<Button type="submit" look="main" disabled={!name.trim()}>
					{say("Freeze")}
				</Button>
			</form>
		</Modal>
	);
}
