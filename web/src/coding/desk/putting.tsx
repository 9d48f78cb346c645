import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { type Shape, saveAtOnce } from "../../api/client";
import { Sender, useWaiting } from "../../project/outbox";
import { useProject } from "../../project/project";
import { useSession } from "../../project/session";
import { post, type Waiting } from "../../project/waiting";
import { type Application, type DeskDocument, fromWire, inUnits, onWire, type Passage, type Place, withCodes, withPassage } from "../data";

/** What the answer to a coding is put into, and what the desk shows nothing of that a coding changes: read again when next looked at. */
const BY_HAND = ["document", "status", "documents", "trail", "roster", "memos", "themes"];

type Status = Shape<"StatusOut">;

/** Put codes on a place: shown at once, sent behind the scenes, kept until the server has it. */
export function useApply(document: DeskDocument) {
	const { id } = useProject();
	const account = useSession().data?.account;
	return ({ codes, newCodes, ...place }: Application) => {
		if (!account) return;
		const said = "start" in place ? document.text.slice(place.start, Math.min(place.end, place.start + 60)) : document.title;
		const body = { ...onWire(document.positions, place), ...wordsAt(document, place), codes, new_codes: newCodes };
		post({ account: account.id, project: id, document: document.id, body, said });
	};
}

/** Code points by which words are found again where somebody changes the text before their coding arrives. */
const MOST_READ = 60;

function wordsAt({ text }: DeskDocument, place: Place): { begins?: string; ends?: string } {
	if (!("start" in place)) return {};
	const words = [...text.slice(place.start, place.end)];
	return { begins: words.slice(0, MOST_READ).join(""), ends: words.slice(-MOST_READ).join("") };
}

/** The document as it will be when what waits is saved. */
export function useWithWaiting(document: DeskDocument | undefined): DeskDocument | undefined {
	const account = useSession().data?.account;
	const { waiting: own } = useWaiting();
	return useMemo(
		() =>
			document &&
			own.reduce(
				(shown, one) =>
					account && one.document === document.id ? withCodes(shown, fromWire(document.positions, one.body), one.body, account) : shown,
				document,
			),
		[document, own, account],
	);
}

/** Saves one coding that waited, and shows what the server says of it. */
function usePut() {
	const { id } = useProject();
	const client = useQueryClient();
	return async (next: Waiting) => {
		const { undo, ...passage } = await saveAtOnce<Shape<"CodedOut">>(
			`/api/projects/${id}/documents/${next.document}/passages`,
			next.body,
			BY_HAND,
		);
		let fresh = 0;
		client.setQueryData<DeskDocument>(["project", id, "document", next.document], (shown) => {
			if (!shown) return shown;
			const before = shown.passages.find((one) => one.id === passage.id)?.codings.length ?? 0;
			fresh = passage.codings.length - before;
			return withPassage(shown, inUnits(shown.positions, [passage])[0] as Passage);
		});
		client.setQueryData<Status>(
			["project", id, "status"],
			(shown) => shown && { ...shown, undo, redo: null, codings: shown.codings + fresh },
		);
	};
}

/** Sends the codings that wait. Once a page. */
export function Codings() {
	return <Sender put={usePut()} />;
}
