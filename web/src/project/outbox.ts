import { useEffect, useMemo, useRef } from "react";
import { ApiError } from "../api/client";
import { say } from "../language/say";
import { useStable } from "../ui/stable";
import { useToasts } from "../ui/toasts";
import { useProject } from "./project";
import { useSession } from "./session";
import { become, nowWaiting, sendsNow, useStore, type Waiting, whenPosted } from "./waiting";

const AGAIN_AFTER = 3000;

/** What waits of this member in this project, in the order in which it was done, and whether the connection is lost. */
export function useWaiting(): { waiting: Waiting[]; lost: boolean } {
	const { id } = useProject();
	const account = useSession().data?.account?.id;
	const { waiting: all, lost: cut } = useStore();
	const own = useMemo(() => all.filter((one) => one.project === id && one.account === account), [all, id, account]);
	return { waiting: own, lost: cut && own.length > 0 };
}

/** No answer, or one that says nothing about what was sent: try again. Anything else is the server’s word on it. */
function worthAnotherTry(error: unknown): boolean {
	return !(error instanceof ApiError) || error.status === 0 || error.status === 401 || error.status >= 500;
}

/** Sends what waits, one after the other, and again when the connection is back; ``put`` saves one. Once a page. */
export function Sender({ put }: { put: (next: Waiting) => Promise<void> }) {
	const { id } = useProject();
	const { warn } = useToasts();
	const { waiting: own, lost: cut } = useWaiting();
	const account = useSession().data?.account?.id;
	const busy = useRef(false);
	const sendOne = async (next: Waiting) => {
		sendsNow(next.key);
		try {
			await put(next);
		} catch (error) {
			if (worthAnotherTry(error)) return false;
			warn(say("{message} The codes on “{said}” were not put.", { message: (error as Error).message, said: next.said }));
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
	useEffect(() => whenPosted(send), [send]);
	// What waited when the page was opened.
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
