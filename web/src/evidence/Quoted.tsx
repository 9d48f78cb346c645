import type { Shape } from "../api/client";
import { useProject } from "../project/project";
import { Crop } from "../ui/Crop";

/** The words of a passage that is read, or what its region shows. */
export function Quoted({
	passage,
}: {
	passage: Pick<Shape<"Quoted">, "document" | "title" | "text" | "picture"> & { region?: Shape<"Quoted">["region"] };
}) {
	const { id } = useProject();
	if (!passage.region) return passage.text;
	const source = `/api/projects/${id}/documents/${passage.document}/${passage.picture}`;
	return <Crop source={source} region={passage.region} alt={`${passage.title}: ${passage.text}`} />;
}
