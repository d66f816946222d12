import { linearSumAssignment } from 'linear-sum-assignment';

/**
 * For each row of the gain matrix the column that it gets so that the gains together are greatest, each column at most once; null where
 * there is none left, or where the gain would not be above `least` (assignment: Kuhn 1955, solved by Jonker and Volgenant's way, in cubic
 * time). Gains at or below `least` are worth nothing, so that no good pair is given up for several poor ones.
 */
export function assign(gains: readonly (readonly number[])[], least = 0): (number | null)[] {
  if (gains.length === 0 || (gains[0]?.length ?? 0) === 0) return gains.map(() => null);
  const { rowAssignments } = linearSumAssignment(gains.map((row) => row.map((gain) => (gain > least ? gain : 0))), { maximaze: true });
  return gains.map((row, index) => {
    const column = rowAssignments[index];
    return column === undefined || column < 0 || (row[column] ?? 0) <= least ? null : column;
  });
}
