import type { ShotFacts } from './shot-facts';

/**
 * Shots in which every word that was typed is told: by their name, scene, description, dialogue, camera, lens, size, subject, take
 * or move. All when nothing is typed.
 */
export function foundShots(facts: readonly ShotFacts[], typed: string): readonly ShotFacts[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return facts;
  return facts.filter((one) => {
    const told = toldOf(one);
    return words.every((word) => told.includes(word));
  });
}

/** What is told of each shot, in one text; made once for each state of it. */
const texts = new WeakMap<ShotFacts, string>();

function toldOf(facts: ShotFacts): string {
  let text = texts.get(facts);
  if (text === undefined) {
    const { shot } = facts.placed;
    const lens = facts.lensMm === undefined ? '' : `${Number(facts.lensMm.toFixed(1))} mm`;
    const scene = shot.scene === '' ? '' : `scene ${shot.scene}`;
    const own = [shot.name, scene, shot.description, shot.spoken, `take ${shot.takeName}`];
    text = [...own, facts.camera, lens, facts.size ?? '', facts.subject, facts.move].join('\n').toLowerCase();
    texts.set(facts, text);
  }
  return text;
}
