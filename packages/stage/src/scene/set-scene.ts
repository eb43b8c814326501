import type { LightMix, Placement } from '@arvex/core';
import { boxCornersAt, isGround, isMoving, isShown, NO_GROUP, placementAt, setOf, withAttached } from '@arvex/core';
import type { Intersection, Object3D, Texture } from 'three';
import { Box3, Matrix4, Quaternion, Scene, Sphere, Vector3 } from 'three';
import type { BodyLibrary, ImportedBody } from '../files';
import { pieceForm } from '../forms';
import type { SetPatch, StagedSet } from '../patch';
import { NOTHING_STAGED, patchedSet } from '../patch';
import { Daylight } from './daylight';
import type { Finish, Instead } from './finish';
import { MovingBodies } from './moving-bodies';
import { PieceBatches } from './piece-batches';
import { plainOf } from './plain-material';
import { Practicals } from './practicals';
import { pictureOf, standingParts } from './standing-parts';

/** Shadows are drawn within a ball of this radius at most, metres. */
const LARGEST_SHADOW_RADIUS_M = 120;

// Places of one thing after another, so that a played frame makes nothing that has to be cleared away.
const world = new Matrix4();
const at = new Vector3();
const turn = new Quaternion();
const ONE = new Vector3(1, 1, 1);

/** Which light falls on the set. */
export interface Lit {
  readonly mix: LightMix;
  /** Of one light group alone (of what belongs to none, with `null`), or of some; of all without. */
  readonly only?: string | null | readonly (string | null)[];
}

interface Bodies {
  readonly imported: ReadonlyMap<string, ImportedBody>;
  readonly pictures: ReadonlyMap<string, Texture>;
}

/** A project's set as a three.js scene, kept in step with the project and with scene time. */
export class SetScene {
  readonly scene = new Scene();
  readonly daylight = new Daylight();
  private readonly pieces = new PieceBatches(this.daylight.uniforms);
  private readonly bodies = new MovingBodies(this.daylight.uniforms);
  private readonly practicals = new Practicals();
  private set: StagedSet = NOTHING_STAGED;
  private shown: Placement[] = [];
  private moving: Placement[] = [];
  private atFlicks = 0;
  private following = 0;
  private finishNow: Finish = 'full';
  private lampsSeen = true;
  /** Whether something that casts a shadow has moved since shadows were drawn. */
  private shadowsStale = true;
  /** The sample for which they were drawn. */
  private sampledFor: number | undefined;
  /** Of which light groups alone. */
  private litOnly = '';
  /** Scene time for which shadows were drawn, flicks. */
  private shadowsAt = 0;

  constructor(private readonly library: BodyLibrary) {
    this.scene.add(this.daylight.group, this.pieces.group, this.bodies.group, this.practicals.group);
  }

  /**
   * Brings the scene to the project's state. Files that are not there yet are read first.
   * @returns hashes of files that could not be read.
   */
  async follow(patch: SetPatch): Promise<string[]> {
    this.set = patchedSet(this.set, patch);
    const turn = ++this.following;
    const missing: string[] = [];
    const bodies = await this.read(missing);
    // The project may have gone on while files were read: only its latest state is stood up.
    if (turn === this.following) this.standUp(bodies);
    return missing;
  }

  dispose(): void {
    this.following += 1; // what is still being read is not stood up any more
    for (const part of [this.pieces, this.bodies, this.practicals, this.daylight]) part.dispose();
    this.library.dispose();
  }

  /** Shadows are drawn anew with the next picture: what the graphics held is gone. */
  forgetShadows(): void {
    this.shadowsStale = true;
  }

  /** Puts everything that moves where it is at a scene time. `shadows` says whether they are to be drawn anew for it. */
  goTo(atFlicks: number, shadows = true): void {
    if (this.moving.length === 0) return;
    if (atFlicks !== this.atFlicks) {
      this.atFlicks = atFlicks;
      for (const placement of this.moving) this.place(placement);
    }
    if (!shadows || atFlicks === this.shadowsAt) return;
    this.shadowsAt = atFlicks;
    this.shadowsStale = true;
  }

  /**
   * Lights everything as a camera's mix has it, or by one light group alone.
   * @param sample of a finer picture: sun, sky and lamps shine from other points of theirs in each; the quick light without one.
   * @param shadows whether shadows may be drawn anew, or stay where they were drawn last; they may when it is not given.
   */
  shine({ mix, only }: Lit, clippingCdM2: number, sample?: number, shadows = true): void {
    const burns = (lightGroupId: string | null) =>
      only === undefined || only === lightGroupId || (Array.isArray(only) && only.includes(lightGroupId));
    const group = setOf(this.set)?.daylightGroupId;
    this.daylight.shineFor(sample);
    this.daylight.shine(mix[group ?? NO_GROUP], burns(group ?? null));
    this.practicals.shine(mix, burns);
    this.pieces.shine(mix, clippingCdM2, burns);
    // Lamps that did not burn have no shadow of this sample yet.
    const lit = only === undefined ? '' : JSON.stringify(only);
    const moved = sample !== this.sampledFor || lit !== this.litOnly || this.shadowsStale;
    if (!shadows || !moved) return;
    const lamps = this.practicals.shineFor(sample);
    for (const light of this.daylight.withShadow()) light.shadow.needsUpdate = true;
    for (const light of this.shadowsStale ? this.practicals.withShadow : lamps) light.shadow.needsUpdate = true;
    this.sampledFor = sample;
    this.litOnly = lit;
    this.shadowsStale = false;
  }

  set finish(finish: Finish) {
    if (finish === this.finishNow) return;
    this.finishNow = finish;
    this.pieces.finish = finish;
    this.bodies.finish = finish;
  }

  /** Whether bodies of lamps are seen. */
  set lampBodies(seen: boolean) {
    if (seen === this.lampsSeen) return;
    this.lampsSeen = seen;
    this.pieces.lampBodies = seen;
  }

  /** Draws all but the ground, which leaves a hole where it lies before something. */
  withoutGround(draw: () => void): void {
    this.drawnWith((own, isGround) => (isGround ? plainOf(own, 'hole') : undefined), draw);
  }

  /** Draws the ground as it is lit; what stands on it leaves a hole and its shadow. */
  groundAlone(draw: () => void): void {
    this.drawnWith((own, isGround) => (isGround ? undefined : plainOf(own, 'hole')), draw);
  }

  /** Draws the ground as it would be lit with nothing on it; what stands on it leaves a hole. */
  bareGround(draw: () => void): void {
    this.groundAlone(() => this.daylight.withoutShadows(() => this.practicals.withoutShadows(draw)));
  }

  /** Draws some placements, with all that they carry, in white and everything else in black. */
  mask(placementIds: readonly string[], draw: () => void): void {
    const there = placementIds.filter((id) => this.set.placements[id]);
    const own = new Set(there.flatMap((placementId) => withAttached(this.set, placementId).map(({ id }) => id)));
    this.pieces.drawnAsMask(own, () =>
      this.drawnWith(
        (material, _ground, id) => plainOf(material, id === undefined || own.has(id) ? 'white' : 'hole'),
        draw,
      ),
    );
  }

  /** Tables of colours by the ids of their assets. */
  get lutFiles(): (readonly [id: string, hash: string])[] {
    return Object.values(this.set.assets).flatMap(({ id, file }) =>
      file.kind === 'lut' ? [[id, file.hash] as const] : [],
    );
  }

  /** Whether anything of a light group (of none, with `null`) gives light. */
  hasLightOf(lightGroupId: string | null): boolean {
    const daylight = setOf(this.set)?.daylightGroupId ?? null;
    return daylight === lightGroupId || this.practicals.hasAny(lightGroupId) || this.pieces.shinesIn(lightGroupId);
  }

  /** What belongs to some light groups. */
  inGroups(lightGroupIds: readonly string[]): string[] {
    const groups = new Set(lightGroupIds);
    return this.shown.filter(({ lightGroupId }) => groups.has(lightGroupId ?? '')).map(({ id }) => id);
  }

  private drawnWith(instead: Instead, draw: () => void): void {
    this.pieces.drawnWith(instead, () => this.bodies.drawnWith(instead, draw));
  }

  /** The placement that a ray has hit. */
  ownerOf({ object, instanceId }: Intersection): string | undefined {
    const piece = this.pieces.ownerOf(object, instanceId);
    if (piece !== undefined) return piece;
    let owner: Object3D | null = object;
    while (owner && owner.userData['placementId'] === undefined) owner = owner.parent;
    return owner?.userData['placementId'] as string | undefined;
  }

  private async read(missing: string[]): Promise<Bodies> {
    const imported = new Map<string, ImportedBody>();
    const pictures = new Map<string, Texture>();
    await Promise.all(
      Object.values(this.set.placements).map(async (placement) => {
        const file = placement.assetId === null ? undefined : this.set.assets[placement.assetId]?.file;
        const picture = pictureOf(placement, this.set.assets);
        const failed = (hash: string) => () => void missing.push(hash);
        if (placement.piece.kind === 'geometry' && file?.kind === 'geometry') {
          const body = await this.library.body(file.hash).catch(failed(file.hash));
          if (body) imported.set(placement.id, body);
        } else if (picture) {
          const texture = await this.library.picture(picture.hash).catch(failed(picture.hash));
          if (texture) pictures.set(placement.id, texture);
        }
      }),
    );
    return { imported, pictures };
  }

  private standUp({ imported, pictures }: Bodies): void {
    this.finish = 'full';
    this.lampBodies = true;
    const daylight = setOf(this.set);
    if (daylight) this.daylight.set(daylight);
    // In an order that follows from the project alone: a picture does not depend on how its set came to be.
    this.shown = Object.values(this.set.placements)
      .filter((placement) => isShown(this.set, placement))
      .sort((a, b) => (a.id < b.id ? -1 : 1));
    this.moving = this.shown.filter((placement) => isMoving(this.set, placement));
    const alone = new Map<string, ImportedBody>();
    for (const placement of this.shown) {
      const body = imported.get(placement.id);
      if (body && (body.deforms || (placement.clip && body.clips.length > 0))) alone.set(placement.id, body);
    }
    this.bodies.set(
      this.shown.flatMap((one) => (alone.has(one.id) ? [[one, alone.get(one.id) as ImportedBody] as const] : [])),
    );
    this.pieces.set(
      this.shown
        .filter((one) => !alone.has(one.id))
        .flatMap((one) => standingParts(this.set, one, this.library, imported.get(one.id), pictures.get(one.id))),
    );
    this.practicals.set(this.shown.filter((one) => one.piece.kind === 'practical'));
    for (const placement of this.shown) this.place(placement);
    this.library.keepOnly(this.used());
    this.fitShadows();
    this.shadowsStale = true;
  }

  /** Files and forms that what stands in the set is made of, whether it is shown or not. */
  private used(): { files: ReadonlySet<string>; forms: ReadonlySet<string> } {
    const placements = Object.values(this.set.placements);
    const files = placements.flatMap(({ assetId }) => this.set.assets[assetId ?? '']?.file.hash ?? []);
    return { files: new Set(files), forms: new Set(placements.flatMap(({ piece }) => pieceForm(piece)?.key ?? [])) };
  }

  private place(placement: Placement): void {
    const { positionM, quaternion, clipSecond } = placementAt(this.set, placement.id, this.atFlicks);
    world.compose(at.set(...positionM), turn.set(...quaternion), ONE);
    this.pieces.place(placement.id, world);
    this.practicals.place(placement.id, world);
    this.bodies.place(placement, world.scale(at.set(...placement.scale)), clipSecond);
  }

  /** Shadows are as fine as the set is small: they are drawn within a ball round what stands on the ground. */
  private fitShadows(): void {
    const box = new Box3();
    for (const placement of this.shown) {
      const corners = boxCornersAt(this.set, placement, this.atFlicks).map((corner) => new Vector3(...corner));
      const own = new Box3().setFromPoints(corners);
      if (!isGround(this.set, placement) && placement.piece.kind !== 'group') box.union(own);
    }
    if (box.isEmpty()) {
      this.daylight.castWithin(new Vector3(), 0);
      return;
    }
    const ball = box.getBoundingSphere(new Sphere());
    this.daylight.castWithin(ball.center, Math.min(LARGEST_SHADOW_RADIUS_M, Math.max(2, ball.radius)));
  }
}
