import { Injectable } from '@angular/core';
import { DraftDatabase } from '../workers/draft-database';

/** The drafts of this browser, as the studio looks at them. */
@Injectable({ providedIn: 'root' })
export class Drafts extends DraftDatabase {}
