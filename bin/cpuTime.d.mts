/** A process, with the CPU seconds that it used itself and those of its children that have ended. */
export interface ProcessTree {
  readonly pid: number;
  readonly parent: number;
  readonly name: string;
  readonly own: number;
  readonly ended: number;
  readonly children: readonly ProcessTree[];
}
export function processTree(root: string | number): ProcessTree | null;
export function cpuSeconds(tree: ProcessTree | null): number;
