import { computed, Directive, inject, input } from '@angular/core';
import type { Channel } from '@arvex/core';
import { moveOf, rigChannels } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Tried, Viewpoint } from '../../session';

/** How a number of a camera stands: moved by keys, tried and not kept, or at rest. */
type State = 'keyed' | 'tried' | 'rest';

const PLACE: ReadonlySet<string> = new Set(['positionX', 'positionY', 'positionZ']);
const HINTS: Readonly<Record<State, string>> = {
  keyed: 'Keyed: its keys move it',
  tried: 'Tried: not kept before it is marked',
  rest: '',
};

/** Shows on a field whether its channel of the edited camera is keyed, tried, or at rest. */
@Directive({
  selector: '[arvexChannel]',
  host: {
    '[class.keyed]': "state() === 'keyed'",
    '[class.tried]': "state() === 'tried'",
    '[attr.data-state]': 'state()',
    '[attr.title]': 'hint()',
  },
})
export class ChannelState {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly tried = inject(Tried);
  readonly arvexChannel = input.required<Channel>();

  protected readonly state = computed<State>(() => {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return 'rest';
    const asked = this.arvexChannel();
    // Where a camera stands is said by the numbers of its rig.
    const channels: readonly Channel[] = PLACE.has(asked) ? [asked, ...rigChannels(camera)] : [asked];
    const trial = this.tried.poseOf(camera.id);
    if (channels.some((channel) => trial?.[channel] !== undefined)) return 'tried';
    const curves = moveOf(project, camera.id)?.curves ?? {};
    return channels.some((channel) => (curves[channel]?.length ?? 0) > 0) ? 'keyed' : 'rest';
  });
  protected readonly hint = computed(() => HINTS[this.state()] || null);
}
