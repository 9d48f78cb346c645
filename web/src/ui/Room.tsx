/** Where the rows are that aren’t drawn. */
export function Room({ high, width }: { high: number; width: number }) {
	if (high <= 0) return null;
	return (
		<tr>
			<td colSpan={width} style={{ height: high }} />
		</tr>
	);
}
