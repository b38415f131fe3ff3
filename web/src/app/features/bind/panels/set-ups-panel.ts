import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import { SetUpList } from '../../../shared/ui/set-up-list';
import { listActions } from '../../../state/actions';
import { selectListOf } from '../../../state/list';
import { Workbench } from '../workbench';
import { PanelHead } from './panel-head';

/** Set-ups beside the drawing: how this profile is played on an occasion. */
@Component({
  selector: 'rondo-set-ups-panel',
  imports: [PanelHead, SetUpList],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="Set-ups" about="Ports, layers, flags and bank for an occasion." />
    <div class="body">
      <rondo-set-up-list [profile]="bench.profile()?.id" [nameOf]="nameOf()" />
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
})
export class SetUpsPanel {
  protected readonly bench = inject(Workbench);
  private readonly store = inject(Store);
  private readonly profiles = this.store.selectSignal(selectListOf.profile);
  protected readonly nameOf = computed(() => {
    const list = this.profiles().documents ?? [];
    return (id: string) => list.find((one) => one.id === id)?.name ?? 'its profile is deleted';
  });

  constructor() {
    this.store.dispatch(listActions.load({ kind: 'profile' }));
  }
}
