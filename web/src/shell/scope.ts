import { useLayoutEffect, useMemo, useRef } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import type { Shape } from "../api/client";
import type { Group } from "../people/condition";

type ScopeIn = Shape<"ScopeInRequest">;

/** What is in play; null leaves all in. It lives in the address. */
export interface Scope {
	cases: number[] | null;
	documents: number[] | null;
	coders: number[] | null;
	codes: number[] | null;
	/** A condition on people, as a cohort's. */
	who: Group | null;
	since: string | null;
	until: string | null;
	/** A saved query, of whose passages only is spoken. */
	query: number | null;
}

export const WHOLE: Scope = { cases: null, documents: null, coders: null, codes: null, who: null, since: null, until: null, query: null };
/** In the address the codes of the scope aren't those of a comparison's rows. */
const NAMES: Record<keyof Scope, string> = {
	cases: "cases",
	documents: "documents",
	coders: "coders",
	codes: "only",
	who: "who",
	since: "since",
	until: "until",
	query: "query",
};
const PARTS = Object.keys(NAMES) as (keyof Scope)[];
const KEYS = Object.values(NAMES);

function parse(text: string | null): number[] | null {
	return text === null ? null : text.split(".").filter(Boolean).map(Number).filter(Number.isFinite);
}

function condition(text: string | null): Group | null {
	if (text === null) return null;
	try {
		const found = JSON.parse(text) as Group;
		return Array.isArray(found.parts) && found.parts.length > 0 ? found : null;
	} catch {
		return null;
	}
}

export function readScope(params: URLSearchParams): Scope {
	return {
		cases: parse(params.get("cases")),
		documents: parse(params.get("documents")),
		coders: parse(params.get("coders")),
		codes: parse(params.get("only")),
		who: condition(params.get("who")),
		since: params.get("since"),
		until: params.get("until"),
		query: Number(params.get("query")) || null,
	};
}

/** A part of a scope as the address says it; null where it leaves all in. */
function said(part: Scope[keyof Scope] | undefined): string | null {
	if (part === null || part === undefined) return null;
	if (Array.isArray(part)) return part.join(".");
	return typeof part === "object" ? JSON.stringify(part) : String(part);
}

/** A whole scope, as the API has it, for the address. */
export function scopeAddress(scope: ScopeIn): Record<string, string> {
	const found: Record<string, string> = {};
	for (const part of PARTS) {
		const words = said(scope[part] as Scope[typeof part]);
		if (words !== null) found[NAMES[part]] = words;
	}
	return found;
}

export function useScope() {
	const [params, setParams] = useSearchParams();
	const scope = useMemo<Scope>(() => readScope(params), [params]);
	const change = (part: Partial<Scope>) =>
		setParams(
			(before) => {
				const next = new URLSearchParams(before);
				for (const key of PARTS) {
					if (!(key in part)) continue;
					const words = said(part[key]);
					if (words === null) next.delete(NAMES[key]);
					else next.set(NAMES[key], words);
				}
				return next;
			},
			{ replace: true },
		);
	return { scope, change, narrowed: PARTS.some((key) => scope[key] !== null) };
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
