import { send } from "./client";

/** Hand a file to the browser. */
export function hand(content: Blob, name: string): void {
	const link = document.createElement("a");
	link.href = URL.createObjectURL(content);
	link.download = name;
	link.click();
	URL.revokeObjectURL(link.href);
}

/** Fetch a file that the server makes, and hand it to the browser under the name the server gave it. */
export async function fetched(address: string, body: object): Promise<void> {
	const response = await send(address, JSON.stringify(body), { "Content-Type": "application/json" });
	const name = response.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1] ?? "cohortia";
	hand(await response.blob(), name);
}
