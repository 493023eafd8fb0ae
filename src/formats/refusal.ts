import { elementCount, type Mesh } from '../core/mesh/mesh.ts';
import type { Result } from '../core/pipeline.ts';
import { placesIn } from '../core/recipe/language/parse.ts';
import { language } from '../core/recipe/language/language.ts';
import type { WorkStage } from '../core/recipe/language/statement.ts';
import type { Finding } from '../core/text/finding.ts';
import { type Model } from '../core/recipe/model/model.ts';

/** What a delivery holds, as far as it matters for what it depends on. */
export type Content = 'mesh' | 'page' | 'drawing';

/** What of a result says whether it can be delivered. */
export type Deliverable = Pick<Result, 'findings' | 'recipe' | 'unfilled'> & {
	held?: number | undefined;
	mesh: Pick<Mesh, 'triangles' | 'quads'>;
	model: Pick<Model, 'curves'>;
};

/** A statement that something went wrong with: its kind and stage, or undefined where the line cannot be read. */
interface FaultyStatement {
	kind: string;
	stage: WorkStage;
}

/** What a drawing depends on: nothing that comes after the shape. */
const ofDrawing = new Set<WorkStage>(['header', 'parameters', 'shape']);

/**
 * Why a result cannot be delivered, as a sentence; undefined where it can. What a delivery depends on has no error: a mesh
 * depends on all but studies and other deliveries, a drawing on what draws it. A figure or a report shows what there is. So does
 * a mesh that may be partial, but for what holds for all of it; a line that cannot be read might say that.
 */
export function refusalOf(result: Deliverable, holds: Content, isPartial: boolean): string | undefined {
	if (holds !== 'drawing' && elementCount(result.mesh) === 0) return whyEmpty(result);
	if (result.model.curves.length === 0) return 'there is no drawing to deliver: the recipe has no curves';
	const inTheWay = result.findings.filter((f) => f.severity === 'error' && isInTheWay(f, result, holds, isPartial));
	if (inTheWay.length > 0) return whyNot(result, inTheWay);
	if (holds === 'mesh' && result.unfilled.length > 0 && !isPartial) return whyPartial(result);
	return undefined;
}

function isInTheWay(finding: Finding, result: Deliverable, holds: Content, isPartial: boolean): boolean {
	if (holds === 'page') return false;
	const blamed = blamedFor(finding, result);
	if (blamed === 'unreadable') return true;
	if (blamed && (blamed.kind === 'deliver' || blamed.stage === 'studies')) return false;
	if (holds === 'drawing') return blamed !== undefined && ofDrawing.has(blamed.stage);
	// What is asked of the solid and of the order of elements holds for all of the mesh.
	return !isPartial || blamed?.stage === 'deliveries' || finding.code === 'order-fold';
}

/** The statement that a finding is about; undefined where it is about none. */
function blamedFor({ span }: Finding, { recipe }: Deliverable): FaultyStatement | 'unreadable' | undefined {
	if (!span) return undefined;
	const line = recipe.lines.find(({ from, to }) => from <= span.from && span.from <= to);
	if (!line) return undefined;
	const { recordOf, recordStarting } = language();
	if (line.statement) return recordOf(line.statement);
	return recordStarting(/^\p{L}+/u.exec(recipe.text.slice(line.from, line.to))?.[0] ?? '') ?? 'unreadable';
}

function whyNot({ recipe }: Deliverable, [first, ...more]: readonly Finding[]): string {
	const place = first!.span ? ` (line ${placesIn(recipe.text)(first!.span.from).line})` : '';
	const count = more.length > 0 ? ` and ${more.length} more` : '';
	return `the recipe has an error that this depends on${place}${count}: ${first!.message}`;
}

function whyEmpty({ findings, held }: Deliverable): string {
	if (held !== undefined) return 'there is no mesh to deliver: it would be so large that it is only predicted';
	const first = findings.find((f) => f.severity === 'error') ?? findings.find((f) => f.severity === 'warning');
	return `there is no mesh to deliver${first ? `: ${first.message}` : ': no region is filled'}`;
}

function whyPartial({ unfilled }: Deliverable): string {
	const some = unfilled.slice(0, 4).map((name) => `“${name}”`);
	const more = unfilled.length > some.length ? ` and ${unfilled.length - some.length} more` : '';
	return `the mesh is not whole: ${unfilled.length === 1 ? 'region' : 'regions'} ${some.join(', ')}${more} could not be filled; mend what the findings say, or ask for what there is (a partial mesh)`;
}
