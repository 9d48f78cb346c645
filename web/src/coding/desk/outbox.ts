import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import { ApiError, api, intoByHand, type Shape, take } from "../api/client";
import { useProject } from "../project/project";
import { useSession } from "../project/session";
import { become, nowWaiting, post, sendsNow, useStore, type Waiting } from "../project/waiting";
import { useStable } from "../ui/stable";
import { useToasts } from "../ui/toasts";
import { type Application, type DeskDocument, fromWire, inUnits, onWire, type Passage, withCodes, withPassage } from "./data";

const AGAIN_AFTER = 3000;
/** What the answer to a coding is put into, and what the desk shows nothing of that a coding changes: read again when next looked at. */
const BY_HAND = ["document", "status", "documents", "trail", "roster", "memos", "themes"];

type Status = Shape<"StatusOut">;

/** What waits of this member in this project, in the order in which it was done, and whether the connection is lost. */
export function useWaiting(): { waiting: Waiting[]; lost: boolean } {
	const { id } = useProject();
	const account = useSession().data?.account?.id;
	const { waiting: all, lost: cut } = useStore();
	const own = useMemo(() => all.filter((one) => one.project === id && one.account === account), [all, id, account]);
	return { waiting: own, lost: cut && own.length > 0 };
}

/** Put codes on a place: shown at once, sent behind the scenes, kept until the server has it. */
export function useApply(document: DeskDocument) {
	const { id } = useProject();
	const account = useSession().data?.account;
	return ({ codes, newCodes, ...place }: Application) => {
		if (!account) return;
		const said = "start" in place ? document.text.slice(place.start, Math.min(place.end, place.start + 60)) : document.title;
		const body = { ...onWire(document.positions, place), codes, new_codes: newCodes };
		post({ account: account.id, project: id, document: document.id, body, said });
	};
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

/** No answer, or one that says nothing about what was sent: try again. Anything else is the server’s word on it. */
function worthAnotherTry(error: unknown): boolean {
	return !(error instanceof ApiError) || error.status === 0 || error.status === 401 || error.status >= 500;
}

/** Sends what waits, one after the other, and again when the connection is back. Once a page. */
export function Sender() {
	const { id } = useProject();
	const client = useQueryClient();
	const { warn } = useToasts();
	const { waiting: own, lost: cut } = useWaiting();
	const account = useSession().data?.account?.id;
	const busy = useRef(false);
	const sendOne = async (next: Waiting) => {
		const path = { project_id: id, document_id: next.document };
		sendsNow(next.key);
		try {
			const { undo, ...passage } = await take(
				api.POST("/api/projects/{project_id}/documents/{document_id}/passages", {
					params: { path },
					body: next.body,
					...intoByHand(BY_HAND),
				}),
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
		} catch (error) {
			if (worthAnotherTry(error)) return false;
			warn(`${(error as Error).message} The codes on “${next.said}” were not put.`);
		}
		const { waiting, lost } = nowWaiting();
		const left = waiting.filter((one) => one.key !== next.key);
		sendsNow(null);
		// It is all saved or it isn't: what was waiting is said until the last is sent.
		become(left, lost && left.length > 0);
		return true;
	};
	const send = useStable(async () => {
		if (busy.current) return;
		busy.current = true;
		try {
			for (;;) {
				const next = nowWaiting().waiting.find((one) => one.project === id && one.account === account);
				if (!next) break;
				if (!(await sendOne(next))) {
					sendsNow(null);
					become(nowWaiting().waiting, true);
					return;
				}
			}
		} finally {
			busy.current = false;
		}
	});
	useEffect(() => {
		if (own.length) void send();
	}, [own.length, send]);
	useEffect(() => {
		if (!cut) return;
		const again = window.setInterval(send, AGAIN_AFTER);
		window.addEventListener("online", send);
		return () => {
			window.clearInterval(again);
			window.removeEventListener("online", send);
		};
	}, [cut, send]);
	return null;
}
