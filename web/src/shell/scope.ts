import { useLayoutEffect, useMemo, useRef } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";

/** Which people, documents and coders are in play; null leaves all in. It lives in the address. */
export interface Scope {
	cases: number[] | null;
	documents: number[] | null;
	coders: number[] | null;
}

const KEYS = ["cases", "documents", "coders"] as const;

function parse(text: string | null): number[] | null {
	return text === null ? null : text.split(".").filter(Boolean).map(Number).filter(Number.isFinite);
}

export function useScope() {
	const [params, setParams] = useSearchParams();
	const scope = useMemo<Scope>(
		() => ({
			cases: parse(params.get("cases")),
			documents: parse(params.get("documents")),
			coders: parse(params.get("coders")),
		}),
		[params],
	);
	const change = (part: Partial<Scope>) =>
		setParams(
			(before) => {
				const next = new URLSearchParams(before);
				for (const key of KEYS) {
					if (!(key in part)) continue;
					const ids = part[key];
					if (ids === null || ids === undefined) next.delete(key);
					else next.set(key, ids.join("."));
				}
				return next;
			},
			{ replace: true },
		);
	return { scope, change, narrowed: KEYS.some((key) => scope[key] !== null) };
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

/** What the API expects: absent lists leave everything in. */
export function scopeRequest(scope: Scope): { cases?: number[]; documents?: number[]; coders?: number[] } {
	return {
		...(scope.cases && { cases: scope.cases }),
		...(scope.documents && { documents: scope.documents }),
		...(scope.coders && { coders: scope.coders }),
	};
}
