import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { PlanTools } from '../../features/set';
import { Selection } from '../../session';

/** What the tool in hand asks for next, or the offer of one. */
@Component({
  selector: 'arvex-plan-prompt',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './plan-prompt.html',
  styleUrl: './plan-prompt.scss',
})
export class PlanPrompt {
  protected readonly tools = inject(PlanTools);
  protected readonly selection = inject(Selection);
}
