import { useLayoutEffect, useMemo, useRef } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import type { Shape } from "../api/client";
import { SCOPE } from "../api/grammar.gen";
import type { Group } from "./condition";
import { readAsked, writtenAsked } from "./grammar";

type ScopeIn = Shape<"ScopeInRequest">;

/** What is in play; null leaves all in. It lives in the address. */
export interface Scope {
	cases: number[] | null;
	documents: number[] | null;
	/** Cohorts of documents, in any of which a document is. */
	document_cohorts: number[] | null;
	coders: number[] | null;
	codes: number[] | null;
	/** A condition on people, as a cohort's. */
	who: Group | null;
	since: string | null;
	until: string | null;
	/** A saved query, of whose passages only is spoken. */
	query: number | null;
}

export const WHOLE: Scope = {
	cases: null,
	documents: null,
	document_cohorts: null,
	coders: null,
	codes: null,
	who: null,
	since: null,
	until: null,
	query: null,
};
const KEYS = SCOPE.map((part) => part.address);

export function readScope(params: URLSearchParams): Scope {
	return readAsked(SCOPE, params) as unknown as Scope;
}

export function useScope() {
	const [params, setParams] = useSearchParams();
	const scope = useMemo<Scope>(() => readScope(params), [params]);
	const change = (part: Partial<Scope>) =>
		setParams(
			(before) => {
				const next = new URLSearchParams(before);
				for (const [key, words] of Object.entries(writtenAsked(SCOPE, part))) words === null ? next.delete(key) : next.set(key, words);
				return next;
			},
			{ replace: true },
		);
	return { scope, change, narrowed: Object.values(scope).some((part) => part !== null) };
}

/** Going to another page of the project leaves the scope as it is, whichever link one follows; only the scope line changes it. */
export function useKeptScope(): void {
	const { pathname, search, state } = useLocation();
	const navigate = useNavigate();
	const before = useRef({ pathname, scope: "" });
	useLayoutEffect(() => {
		const params = new URLSearchParams(search);
		const own = new URLSearchParams(KEYS.flatMap((key) => (params.has(key) ? [[key, params.get(key) ?? ""]] : []))).toString();
		const { pathname: from, scope } = before.current;
		const carried = own === "" && scope !== "" && from !== pathname && projectIn(from) === projectIn(pathname);
		before.current = { pathname, scope: carried ? scope : own };
		if (!carried) return;
		for (const [key, value] of new URLSearchParams(scope)) params.set(key, value);
		navigate({ pathname, search: params.toString() }, { replace: true, state });
	}, [pathname, search, state, navigate]);
}

function projectIn(pathname: string): string | undefined {
	return /^\/projects\/(\d+)/.exec(pathname)?.[1];
}

/** What the API expects: absent parts leave everything in. */
export function scopeRequest(scope: Scope): ScopeIn {
	return Object.fromEntries(Object.entries(scope).filter(([, part]) => part !== null)) as ScopeIn;
}
