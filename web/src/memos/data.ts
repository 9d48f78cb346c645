import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Shape, take } from "../api/client";
import { fetched } from "../api/files";
import { say } from "../language/say";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { beginning, type Thing } from "./linked";
import { type AnyKind, MEMO_KINDS } from "./memos";

export type Memo = Omit<Shape<"MemoOut">, "kinds"> & { kinds: AnyKind[] };

export function useMemos(asked = true) {
	const { id } = useProject();
	return useQuery({ ...read("memos", id), enabled: asked, select: (memos) => memos as Memo[] });
}

interface KindNamed {
	value: AnyKind;
	label: string;
	hint?: string;
}

const NONE: Shape<"MemoKindOut">[] = [];

/** The project’s own kinds of memos. */
export function useOwnKinds() {
	const { id } = useProject();
	return useQuery(read("memo kinds", id)).data ?? NONE;
}

/** All kinds: those that every project has, then its own. */
export function useKinds(): KindNamed[] {
	const own = useOwnKinds();
	return useMemo(() => [...MEMO_KINDS, ...own.map(({ id, name }) => ({ value: id, label: name }))], [own]);
}

/** The names of kinds, in words. */
export function useKindsNamed(): (kinds: AnyKind[]) => string {
	const kinds = useKinds();
	return (wanted) => wanted.map((one) => kinds.find(({ value }) => value === one)?.label ?? "…").join(", ");
}

/** All that a memo can speak of; read once somebody has begun to name something. */
export function useThings(asked: boolean): Thing[] {
	const { id, case_one } = useProject();
	const codes = useQuery({ ...read("codebook", id), enabled: asked }).data?.codes;
	const themes = useQuery({ ...read("themes", id), enabled: asked }).data?.themes;
	const cases = useQuery({ ...read("roster", id), enabled: asked, select: (roster) => roster.cases }).data;
	const documents = useQuery({ ...read("documents", id), enabled: asked }).data;
	const kept = useQuery({ ...read("kept", id), enabled: asked }).data;
	const memos = useMemos(asked).data;
	return useMemo(
		() => [
			...(codes ?? []).map((one) => ({ thing: "code" as const, id: one.id, name: one.name, kind: say("code") })),
			...(themes ?? []).map((one) => ({ thing: "theme" as const, id: one.id, name: one.name, kind: say("theme") })),
			...(cases ?? []).map((one) => ({ thing: "case" as const, id: one.id, name: one.identifier, kind: case_one })),
			...(documents ?? []).map((one) => ({ thing: "document" as const, id: one.id, name: one.title, kind: say("document") })),
			...(kept ?? []).map((one) => ({ thing: "comparison" as const, id: one.id, name: one.name, kind: say("comparison") })),
			...(memos ?? []).map((one) => ({ thing: "memo" as const, id: one.id, name: beginning(one.text), kind: say("memo") })),
		],
		[codes, themes, cases, documents, kept, memos, case_one],
	);
}

export function useMemoWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		write: useWrite((body: Shape<"NewMemoInRequest">) => take(api.POST("/api/projects/{project_id}/memos", { params: { path }, body }))),
		intoDocument: useWrite((memo_id: number) =>
			take(api.POST("/api/projects/{project_id}/memos/{memo_id}/document", { params: { path: { ...path, memo_id } } })),
		),
		change: useWrite(({ id: memo_id, ...body }: { id: number } & Shape<"PatchedMemoInRequest">) =>
			take(api.PATCH("/api/projects/{project_id}/memos/{memo_id}", { params: { path: { ...path, memo_id } }, body })),
		),
		changeMany: useWrite((body: Shape<"PatchedMemosChangeRequest">) =>
			take(api.PATCH("/api/projects/{project_id}/memos", { params: { path }, body })),
		),
		remove: useWrite((memo_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/memos/{memo_id}", { params: { path: { ...path, memo_id } } })),
		),
	};
}

export function useKindWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		make: useWrite((name: string) => take(api.POST("/api/projects/{project_id}/memos/kinds", { params: { path }, body: { name } }))),
		rename: useWrite(({ id: kind_id, name }: { id: number; name: string }) =>
			take(api.PATCH("/api/projects/{project_id}/memos/kinds/{kind_id}", { params: { path: { ...path, kind_id } }, body: { name } })),
		),
		remove: useWrite((kind_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/memos/kinds/{kind_id}", { params: { path: { ...path, kind_id } } })),
		),
	};
}

/** Hand these memos, in this order, to the browser as a file. */
export const takeOutMemos = (project: number, memos: number[], ending: string) =>
	fetched(`/api/projects/${project}/memos/file/${ending}`, { memos });
