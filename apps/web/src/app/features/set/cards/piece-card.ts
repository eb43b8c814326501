import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Piece, PlacementParts } from '@arvex/core';
import {
  eyesM,
  FIGURE_POSES,
  inNewLightGroup,
  lightGroupsInOrder,
  movedParts,
  pieceSchema,
  placementBox,
  placementValuesAt,
  setPlacement,
} from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Playhead, Selection, Units } from '../../../session';
import { ChoiceField, choicesOf, LengthField, NameField, NumberField, Reveal, Switch } from '../../../ui';
import { SetPieces } from '../pieces';
import { GeometrySize } from './geometry-size';
import type { PieceField } from './piece-fields';
import { fieldsOf, iconOf, kindText } from './piece-fields';
import { PoseFields } from './pose-fields';
import { SurfaceFields } from './surface-fields';
import { WallOpenings } from './wall-openings';

const NO_GROUP = 'none';
const NEW_GROUP = 'new';

/** The last thing that was chosen, in numbers: what it is, where it stands, how it looks. */
@Component({
  selector: 'arvex-piece-card',
  imports: [
    ChoiceField,
    GeometrySize,
    LengthField,
    MatIcon,
    NameField,
    NumberField,
    PoseFields,
    Reveal,
    SurfaceFields,
    Switch,
    WallOpenings,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './piece-card.html',
  styleUrl: './piece-card.scss',
})
export class PieceCard {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  protected readonly selection = inject(Selection);
  protected readonly pieces = inject(SetPieces);
  protected readonly units = inject(Units);
  protected readonly icon = iconOf;
  protected readonly kindText = kindText;
  protected readonly poses = choicesOf(FIGURE_POSES);

  protected readonly placement = this.selection.last;
  protected readonly chosen = computed(() => this.selection.ids().length);
  protected readonly fields = computed(() => {
    const placement = this.placement();
    return placement ? fieldsOf(placement.piece) : [];
  });
  protected readonly values = computed(() => {
    const placement = this.placement();
    return placement && placementValuesAt(placement, this.playhead.seen()?.sceneFlicks ?? 0);
  });
  protected readonly eyes = computed(() => {
    const placement = this.placement();
    return placement && eyesM(placement);
  });
  protected readonly imported = computed(() => {
    const placement = this.placement();
    const file = placement?.assetId != null ? this.store.project()?.assets[placement.assetId]?.file : undefined;
    return placement?.piece.kind === 'geometry' && file?.kind === 'geometry' ? file : undefined;
  });
  protected readonly size = computed(() => {
    const [project, placement] = [this.store.project(), this.placement()];
    if (!project || !placement) return undefined;
    const { minM, maxM } = placementBox(project, placement);
    return [maxM[0] - minM[0], maxM[1] - minM[1], maxM[2] - minM[2]] as const;
  });
  protected readonly carrier = computed(() => this.store.project()?.placements[this.placement()?.parentId ?? '']);
  protected readonly shines = computed(() => {
    const piece = this.placement()?.piece;
    return piece !== undefined && piece.kind !== 'practical' && piece.kind !== 'group';
  });
  protected readonly inGroups = computed(
    () =>
      this.placement()?.piece.kind === 'practical' ||
      this.placement()?.surface.luminanceCdM2 !== null ||
      this.imported() !== undefined,
  );
  protected readonly groups = computed(() => {
    const project = this.store.project();
    const groups = project ? lightGroupsInOrder(project).map(({ id, name }) => ({ id, name })) : [];
    return [{ id: NO_GROUP, name: 'no group' }, ...groups, { id: NEW_GROUP, name: 'a new group' }];
  });

  protected valueOf(piece: Piece, { key }: PieceField): number {
    return Number((piece as unknown as Record<string, unknown>)[key] ?? 0);
  }

  protected setField(piece: Piece, { key, label, unit }: PieceField, value: number): void {
    const next = pieceSchema.safeParse({ ...piece, [key]: unit === 'steps' ? Math.round(value) : value });
    if (next.success) this.set(label, { piece: next.data });
  }

  protected setPiece(what: string, parts: Record<string, unknown>): void {
    const piece = this.placement()?.piece;
    const next = piece && pieceSchema.safeParse({ ...piece, ...parts });
    if (next?.success) this.set(what, { piece: next.data });
  }

  protected setPose(what: string, pose: Parameters<typeof movedParts>[2]): void {
    const placement = this.placement();
    if (placement) this.set(what, movedParts(placement, this.pieces.atFlicks, pose, 'as-typed'));
  }

  protected set(what: string, parts: PlacementParts): void {
    const id = this.placement()?.id;
    if (id !== undefined) this.pieces.edit((project) => setPlacement(project, id, what, parts));
  }

  protected setGroup(id: string): void {
    const placement = this.placement();
    if (id === NEW_GROUP && placement) {
      this.pieces.edit((project) => inNewLightGroup(project, placement.id, crypto.randomUUID()));
      return;
    }
    this.set('Light group of', { lightGroupId: id === NO_GROUP ? null : id });
  }
}
