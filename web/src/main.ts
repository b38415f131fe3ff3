import { inject, provideAppInitializer, provideZonelessChangeDetection } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withComponentInputBinding, type Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState, provideStore } from '@ngrx/store';
import { MessageService } from 'primeng/api';
import { providePrimeNG } from 'primeng/config';
import * as z from 'zod';
import { App } from './app/shell/app';
import { hostFeature, profileFeature, surfaceFeature } from './app/state/document';
import * as libraryEffects from './app/state/effects/library';
import * as listEffects from './app/state/effects/lists';
import * as openingEffects from './app/state/effects/opening';
import * as savingEffects from './app/state/effects/saving';
import * as serverEffects from './app/state/effects/server';
import * as windowEffects from './app/state/effects/windows';
import { libraryFeature } from './app/state/library';
import { listFeature } from './app/state/list';
import { selectionFeature } from './app/state/selection';
import { ServerEvents } from './app/state/server-events';
import { RONDO_PRESET } from './app/shared/ui/theme';

// Zod would else try `new Function`, which the content security policy forbids.
z.config({ jitless: true });

const routes: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'profiles' },
  {
    path: 'profiles',
    title: 'Profiles – Rondo',
    loadComponent: () => import('./app/features/profiles/profiles').then((m) => m.Profiles),
  },
  {
    path: 'profiles/new',
    title: 'New profile – Rondo',
    loadComponent: () => import('./app/features/profiles/new-profile').then((m) => m.NewProfile),
  },
  {
    path: 'bind/:id',
    title: 'Bind – Rondo',
    data: { half: 'forward' },
    loadComponent: () => import('./app/features/bind/bind').then((m) => m.Bind),
  },
  {
    path: 'lights/:id',
    title: 'Lights – Rondo',
    data: { half: 'return' },
    loadComponent: () => import('./app/features/bind/bind').then((m) => m.Bind),
  },
  {
    path: 'surfaces',
    title: 'Surfaces – Rondo',
    loadComponent: () => import('./app/features/surfaces/surfaces').then((m) => m.Surfaces),
  },
  {
    path: 'surfaces/:id',
    title: 'Surface – Rondo',
    loadComponent: () => import('./app/features/surfaces/workshop').then((m) => m.Workshop),
  },
  {
    path: 'hosts',
    title: 'Hosts – Rondo',
    loadComponent: () => import('./app/features/hosts/hosts').then((m) => m.Hosts),
  },
  {
    path: 'hosts/:id',
    title: 'Host – Rondo',
    loadComponent: () => import('./app/features/hosts/chart').then((m) => m.Chart),
  },
  {
    path: 'ports',
    title: 'Ports – Rondo',
    loadComponent: () => import('./app/features/ports/ports').then((m) => m.PortsScreen),
  },
  { path: '**', redirectTo: 'profiles' },
];

const nonce = document.querySelector('rondo-root')?.getAttribute('ngCspNonce') ?? '';

bootstrapApplication(App, {
  providers: [
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    provideStore(),
    provideState(listFeature),
    provideState(profileFeature),
    provideState(surfaceFeature),
    provideState(hostFeature),
    provideState(libraryFeature),
    provideState(selectionFeature),
    provideEffects(
      listEffects,
      openingEffects,
      savingEffects,
      windowEffects,
      serverEffects,
      libraryEffects,
    ),
    provideAppInitializer(() => inject(ServerEvents).start()),
    MessageService,
    providePrimeNG({
      csp: { nonce },
      theme: { preset: RONDO_PRESET, options: { darkModeSelector: '.booth' } },
    }),
  ],
}).catch((error: unknown) => console.error(error));
