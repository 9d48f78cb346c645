/** What a write in a project touched: kinds of rows, as the server names them; null where it may be anything. */
export interface Move {
	project: number;
	revision: number;
	touched: string[] | null;
	/** Names of what the answer is put into by hand: only marked as to be read again. */
	byHand: string[];
}

type Heard = (move: Move) => void;
const hearing = new Set<Heard>();
const own = new Map<number, Set<number>>();
let told = 0;

/** Told of every write of this page’s own, by what the answer says. */
export function hear(address: string, headers: Headers, byHand: string[] = []): void {
	const project = address.match(/\/api\/projects\/(\d+)(?:\/|$)/)?.[1];
	const revision = Number(headers.get("X-Revision"));
	if (!project || !revision) return;
	told += 1;
	const move = { project: Number(project), revision, byHand, touched: headers.get("X-Touched")?.split(" ").filter(Boolean) ?? null };
	own.set(move.project, (own.get(move.project) ?? new Set()).add(revision));
	for (const heard of hearing) heard(move);
}

/** How many writes have said what they touched. */
export function movesTold(): number {
	return told;
}

/** Whether it was this page that made the revision: it has been heard of already. */
export function isOwn(project: number, revision: number): boolean {
	return own.get(project)?.has(revision) ?? false;
}

/** Be told of every write of this page’s own; returns how to hear no more. */
export function onWrite(heard: Heard): () => void {
	hearing.add(heard);
	return () => {
		hearing.delete(heard);
	};
}
