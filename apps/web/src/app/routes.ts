import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./levels/levels-page').then((m) => m.LevelsPage), title: 'Levels — Nettlewick' },
  { path: 'levels/:levelId', redirectTo: 'levels/:levelId/draw', pathMatch: 'full' },
  { path: 'levels/:levelId/:place', loadComponent: () => import('./page/studio-page').then((m) => m.StudioPage) },
  { path: '**', redirectTo: '' },
];
