import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, take } from "../api/client";
import { earlyRevision } from "../api/early";
import { isOwn } from "../api/written";
import { say } from "../language/say";
import { readAgain } from "../project/moves";
import { useWaiting } from "../project/outbox";
import { useProject } from "../project/project";
import { Connection } from "./Connection";

const EVERY = 3000;
const SHOWN_FOR = 20_000;

/** When somebody else has changed the project, what is shown is read again, and they are named. */
export function Arrivals() {
	const { id } = useProject();
	const client = useQueryClient();
	const [said, setSaid] = useState("");
	/** The revision up to which this page has heard of everything. */
	const shown = useRef<number>(undefined);
	const pulse = useQuery({
		queryKey: ["pulse", id],
		queryFn: () => {
			shown.current ??= earlyRevision(id);
			return take(api.GET("/api/projects/{project_id}/pulse", { params: { path: { project_id: id }, query: { since: shown.current } } }));
		},
		refetchInterval: EVERY,
		retry: false,
	}).data;
	const others = useRef<number>(undefined);
	useEffect(() => {
		if (!pulse) return;
		const before = others.current;
		others.current = pulse.others;
		shown.current = pulse.revision;
		const news = pulse.moves.filter((move) => !isOwn(id, move.revision));
		if (news.some((move) => move.touched === null)) readAgain(client, id, null);
		else if (news.length) readAgain(client, id, [...new Set(news.flatMap((move) => move.touched ?? []))]);
		if (before !== undefined && pulse.others > before) setSaid(say("{by}, just now: {summary}", { by: pulse.by, summary: pulse.summary }));
	}, [pulse, id, client]);
	useEffect(() => {
		if (!said) return;
		const later = window.setTimeout(() => setSaid(""), SHOWN_FOR);
		return () => window.clearTimeout(later);
	}, [said]);
	return (
		<p role="status" aria-label={say("What others do")} className="max-w-80 truncate text-[12.8px] text-quiet" title={said}>
			{said}
		</p>
	);
}

/** Says on every page of a project how the line is, and which codings wait for it. */
export function NotSaved() {
	const { waiting, lost } = useWaiting();
	return <Connection waiting={lost ? waiting.length : 0} />;
}
