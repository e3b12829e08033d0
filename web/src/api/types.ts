import type { Schema } from './client'

/** What many screens speak of, by its own name. */
export type Job = Schema<'JobOut'>
export type CoatPlan = Schema<'CoatPlan'>
