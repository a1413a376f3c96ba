/** Glasses known by name. */
export type GlassName = 'N-BK7' | 'fused-silica';

export const GLASS_NAMES: readonly GlassName[] = ['N-BK7', 'fused-silica'];

const SPELLINGS: Readonly<Record<string, GlassName>> = {
  nbk7: 'N-BK7',
  bk7: 'N-BK7',
  fusedsilica: 'fused-silica',
  silica: 'fused-silica'
};

/** The glass meant by a name, whatever its case, spaces and hyphens; undefined when not known. */
export function glassNamed(name: string): GlassName | undefined {
  const spelling = name.toLowerCase().replace(/[\s_-]/g, '');
  return Object.hasOwn(SPELLINGS, spelling) ? SPELLINGS[spelling] : undefined;
}
