import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Plan = components['schemas']['PlanDocument']
export type PlanSummary = components['schemas']['PlanSummary']
export type Result = components['schemas']['ResultDocument']
export type Corner = components['schemas']['CornerResultPart']
export type Trace = components['schemas']['Trace']
export type Assumptions = components['schemas']['Assumptions']
export type Change = components['schemas']['Change']
export type WhatIf = components['schemas']['WhatIf']
export type ErrorBody = components['schemas']['ErrorBody']

export const client = createClient<paths>({ baseUrl: location.origin })
