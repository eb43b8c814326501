import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { angleForShutter, changeEv, CoreError, MARKED_STOPS, ND_FILTERS, sceneEv, setHead, setOwn } from '@arvex/core';
import { Notices } from '../../../data';
import { AngleField, Card, ChoiceField, evText, ndText, NumberField, shutterText, stopText, Switch } from '../../../ui';
import { CameraBench } from '../camera-bench';
import { ExposureControls } from '../exposure-controls';
import { Meter } from '../meter';
import { PictureScopes } from './picture-scopes';

/** Aperture, shutter, ISO and ND, who takes a change up, the meter, and the EV that comes of it all. */
@Component({
  selector: 'arvex-light-card',
  imports: [AngleField, Switch, Card, ChoiceField, NumberField, PictureScopes],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './light-card.html',
  styles: `
    .absorbers button {
      flex: 1 0 auto;
      padding: 0 3px;
    }
    .meter {
      flex: 1;
    }
    p {
      margin: 0 0 9px;
    }
  `,
})
export class LightCard {
  /** What takes a change of light up, in its order. */
  protected readonly absorbers = computed(() =>
    this.exposure.absorbers().map((id, i) => ({ id, name: `${i + 1} ${this.exposure.nameOf(id)}` })),
  );
  protected readonly bench = new CameraBench();
  protected readonly exposure = inject(ExposureControls);
  protected readonly meter = inject(Meter);
  private readonly notices = inject(Notices);
  protected readonly stops = MARKED_STOPS.map((stop) => ({ id: String(stop), name: `ƒ${stop}` }));
  protected readonly modes = [
    { id: 'spot', name: 'a spot' },
    { id: 'centre', name: 'mostly the centre' },
    { id: 'whole', name: 'the whole frame' },
  ] as const;
  protected readonly openings = [
    { id: 'at-frame', name: 'at the frame' },
    { id: 'centred', name: 'centred on it' },
  ] as const;
  protected readonly opens = computed(() => this.bench.store.project()?.head.shutterOpens ?? 'at-frame');
  protected readonly filters = ND_FILTERS.map((stops) => ({
    id: String(stops),
    name: stops === 0 ? 'none' : `${stops} ${stops === 1 ? 'stop' : 'stops'}`,
    detail: (stops * 0.3).toFixed(1),
  }));
  protected readonly sceneEv = sceneEv;
  protected readonly stopText = stopText;
  protected readonly shutterText = shutterText;

  /** For the whole project: motion is blurred alike in every picture of it. */
  protected setOpens(shutterOpens: 'at-frame' | 'centred'): void {
    const project = this.bench.store.project();
    const what = shutterOpens === 'centred' ? 'The shutter is centred on the frame' : 'The shutter opens at the frame';
    if (project) this.bench.store.commit(setHead(project, what, { shutterOpens }));
  }

  protected readonly own = computed(() => this.bench.camera()?.own.includes('exposure') ?? false);
  protected readonly summary = computed(() => {
    const state = this.bench.state();
    if (!state) return '';
    const { exposure, focus } = state;
    const iso = Math.round(exposure.iso);
    return `${stopText(focus.fStop)} ${shutterText(exposure.shutterSeconds).replace(' s', '')} ISO ${iso} ${[evText(exposure), ndText(exposure)].filter(Boolean).join(' ')}`;
  });
  protected readonly reading = computed(() => {
    const [reading, over] = [this.meter.reading(), this.meter.over()];
    if (reading?.cameraId !== this.bench.camera()?.id || !reading || over === undefined) return undefined;
    const { luminanceCdM2 } = reading;
    const stops = Math.abs(over);
    const how = stops < 0.05 ? 'as metered' : `${stops.toFixed(1)} stops ${over > 0 ? 'over' : 'under'}`;
    return { text: `${Number(luminanceCdM2.toPrecision(3))} cd/m² · ${how}`, over, bad: stops > 2 };
  });
  protected setOwn(own: boolean): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (project && camera) this.bench.store.commit(setOwn(project, camera.id, 'exposure', own));
  }

  protected setSeconds(seconds: number): void {
    const project = this.bench.store.project();
    if (!project) return;
    try {
      this.exposure.change(`Shutter ${shutterText(seconds)}`, 'shutter', angleForShutter(seconds, project.head.rate));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
    }
  }

  /** An EV that was typed: the absorbers take up what it differs by. */
  protected setEv(ev: number): void {
    const state = this.bench.state();
    if (!state) return;
    const edit = changeEv(state, ev - sceneEv(state.exposure));
    this.exposure.apply(`EV ${ev.toFixed(1)}`, edit);
  }

  protected toMeter(): void {
    const reading = this.reading();
    if (reading) this.exposure.byStops('Expose as metered', reading.over);
  }
}
