import { ruleSchema } from '../../core/segments/ruleSchema.js'
import { exportFormats } from '../export/formats.js'
import { exportables } from '../export/tables.js'
import { z } from 'zod'
import { questionSchema } from '../../core/analyses/registry.js'
import { takeChoiceSchema } from '../ingest/takeChoice.js'
import { eventSchema, personSchema } from '../ingest/event.js'

const reply = z.object({
  accepted: z.int(),
  duplicates: z.int().describe('known already by their id; they have no effect'),
  setAside: z.int().describe('do not fit the tracking plan, and are kept out of all numbers until they are let in'),
  tests: z.int().describe('sent with `test`: shown on the page Live, and counted nowhere'),
  rejected: z.array(z.object({ line: z.int(), reason: z.string() })),
})
const failure = z.object({ error: z.object({ message: z.string(), faults: z.array(z.object({})).optional() }) })
const answer = z.object({ question: z.unknown(), asOf: z.string(), result: z.unknown() })

const content = (schema: object, type = 'application/json') => ({ [type]: { schema } })
const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` })
const idParameter = { name: 'id', in: 'path', required: true, schema: { type: 'string' } }
const failures = {
  '401': { description: 'no key, or one that is not known', content: content(ref('Failure')) },
  '403': { description: 'the key has another scope', content: content(ref('Failure')) },
  '429': {
    description: 'the key has used up its rate, or too much waits: ask again after `Retry-After` seconds',
    content: content(ref('Failure')),
  },
  '503': {
    description: 'a thread is being started again: ask again after `Retry-After` seconds',
    content: content(ref('Failure')),
  },
}

function sending(name: 'Event' | 'Person', what: string) {
  return {
    post: {
      summary: `Send ${what}`,
      description: `One object, an array, or JSON Lines (application/x-ndjson); also gzip. Good ones are kept when others of the batch are not. Answered once they are on disk.`,
      security: [{ write: [] }],
      requestBody: {
        required: true,
        content: {
          ...content({ oneOf: [ref(name), { type: 'array', items: ref(name) }] }),
          ...content({ type: 'string' }, 'application/x-ndjson'),
        },
      },
      responses: {
        '200': { description: 'taken', content: content(ref('Taken')) },
        '400': { description: 'the body cannot be read', content: content(ref('Failure')) },
        '413': { description: 'the body is over the limit', content: content(ref('Failure')) },
        '422': { description: 'nothing in it could be taken', content: content(ref('Taken')) },
        '507': { description: 'the disk is nearly full: nothing of it was taken', content: content(ref('Failure')) },
        ...failures,
      },
    },
  }
}

function takingBack(summary: string) {
  return {
    summary,
    security: [{ mend: [] }],
    requestBody: { required: true, content: content(ref('TakeBack')) },
    responses: {
      '200': { description: 'how many events, of which, of how many people', content: content({ type: 'object' }) },
      '404': { description: 'nothing that is there came by that', content: content(ref('Failure')) },
      '422': { description: 'what cannot be understood', content: content(ref('Failure')) },
      ...failures,
    },
  }
}

/** A choice as programs write it: times as everywhere else. */
const time = z.union([z.string(), z.number()]).describe('ISO 8601 or epoch milliseconds, of receipt')
const [, ofKey, ...others] = takeChoiceSchema.options
const takeBack = z.union([
  takeChoiceSchema.options[0],
  ofKey.omit({ fromMs: true, untilMs: true }).extend({ from: time, until: time }),
  ...others,
])

let made: object | null = null

/** The API's description, made from the schemas that check it. */
export function openApiDocument(): object {
  made ??= {
    openapi: '3.1.0',
    info: { title: 'Dowser', version: '1', description: 'Send events and people, ask questions, take events out.' },
    servers: [{ url: '/api/v1' }],
    paths: {
      '/events': sending('Event', 'events'),
      '/people': sending('Person', 'profile properties of people'),
      '/query': {
        post: {
          summary: 'Ask a question',
          description: 'Takes any study’s definition, and answers with the numbers that the study’s page shows.',
          security: [{ read: [] }],
          requestBody: { required: true, content: content(ref('Question')) },
          responses: {
            '200': { description: 'the result', content: content(ref('Answer')) },
            '422': { description: 'what is wrong with the definition, and where', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/query/cost': {
        post: {
          summary: 'Ask about how long a question will take, before asking it',
          security: [{ read: [] }],
          requestBody: { required: true, content: content(ref('Question')) },
          responses: {
            '200': {
              description: 'about how many seconds, and how many it may take at most',
              content: content({
                type: 'object',
                properties: { seconds: { type: 'number' }, limitSeconds: { type: 'number' } },
              }),
            },
            '422': { description: 'what is wrong with the definition, and where', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/studies': {
        get: {
          summary: 'List the saved studies',
          security: [{ read: [] }],
          responses: {
            '200': { description: 'the studies', content: content({ type: 'array', items: {} }) },
            ...failures,
          },
        },
      },
      '/studies/{id}': {
        get: {
          summary: 'Read a saved study with its result as of now',
          security: [{ read: [] }],
          parameters: [idParameter],
          responses: {
            '200': { description: 'the study and its result', content: content(ref('Answer')) },
            '404': { description: 'there is no such study', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/segments': {
        get: {
          summary: 'List the segments',
          security: [{ read: [] }],
          responses: {
            '200': { description: 'the segments, with their rules', content: content({ type: 'array', items: {} }) },
            ...failures,
          },
        },
      },
      '/segments/count': {
        post: {
          summary: 'Count the people for whom a rule holds, and each of its conditions by itself',
          security: [{ read: [] }],
          requestBody: { required: true, content: content(ref('Rule')) },
          responses: {
            '200': { description: 'how many there are', content: content({ type: 'object' }) },
            '422': { description: 'what is wrong with the rule, and where', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/segments/{id}': {
        get: {
          summary: 'Read a segment with how many people it holds now',
          security: [{ read: [] }],
          parameters: [idParameter],
          responses: {
            '200': { description: 'the segment', content: content({ type: 'object' }) },
            '404': { description: 'there is no such segment', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/segments/{id}/people': {
        get: {
          summary: 'Read the people of a segment, a page at a time',
          security: [{ read: [] }],
          parameters: [
            idParameter,
            { name: 'offset', in: 'query', schema: { type: 'integer', minimum: 0, default: 0 } },
            { name: 'limit', in: 'query', schema: { type: 'integer', minimum: 1, maximum: 1000, default: 100 } },
          ],
          responses: {
            '200': { description: 'the people, with their profiles', content: content({ type: 'object' }) },
            '404': { description: 'there is no such segment', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/outreach/kept': {
        get: {
          summary: 'List what is kept in step with destinations',
          security: [{ read: [] }],
          responses: {
            '200': {
              description: 'what is kept in step, and how it stands',
              content: content({ type: 'array', items: {} }),
            },
            ...failures,
          },
        },
      },
      '/outreach/kept/{id}': {
        get: {
          summary: 'Read how something that is kept in step stands, with its last 100 looks',
          security: [{ read: [] }],
          parameters: [idParameter],
          responses: {
            '200': { description: 'what it is, and how each look went', content: content({ type: 'object' }) },
            '404': { description: 'there is no such thing', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/outreach/messages': {
        get: {
          summary: 'List the messages',
          security: [{ read: [] }],
          responses: {
            '200': {
              description: 'the messages, and what became of whom',
              content: content({ type: 'array', items: {} }),
            },
            ...failures,
          },
        },
      },
      '/outreach/messages/{id}': {
        get: {
          summary: 'Read a message: what it brings, its last 100 entries, and how its split moved',
          security: [{ read: [] }],
          parameters: [idParameter],
          responses: {
            '200': { description: 'what it is, and what it brings', content: content({ type: 'object' }) },
            '404': { description: 'there is no such message', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/outreach/destinations': {
        get: {
          summary: 'List the destinations',
          security: [{ read: [] }],
          responses: {
            '200': {
              description: 'the destinations, without their secrets',
              content: content({ type: 'array', items: {} }),
            },
            ...failures,
          },
        },
      },
      '/outreach/destinations/{id}/receipts': {
        get: {
          summary: 'Read what a stand-in has taken, and the last calls of a webhook',
          security: [{ read: [] }],
          parameters: [idParameter],
          responses: {
            '200': { description: 'what it has taken', content: content({ type: 'object' }) },
            '404': { description: 'there is no such destination', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      '/taken-back': {
        get: {
          summary: 'List what was taken back in the last 30 days',
          security: [{ mend: [] }],
          responses: {
            '200': { description: 'the newest first', content: content({ type: 'array', items: {} }) },
            ...failures,
          },
        },
        post: takingBack('Take back what came in; for 30 days it can be brought back'),
      },
      '/taken-back/look': { post: takingBack('Look at what would be taken back; nothing is changed') },
      '/taken-back/{id}/bring': {
        post: {
          summary: 'Bring back what was taken back',
          security: [{ mend: [] }],
          parameters: [idParameter],
          responses: {
            '200': { description: 'how many events are back', content: content({ type: 'object' }) },
            '404': { description: 'there is nothing of this id to bring back', content: content(ref('Failure')) },
            ...failures,
          },
        },
      },
      ...Object.fromEntries(
        exportables.map((what) => [
          `/${what}/export`,
          {
            get: {
              summary: `Take ${what === 'catalog' ? 'the catalog' : `all ${what}`} out; JSON Lines of events can be sent in again`,
              security: [{ read: [] }],
              parameters: [
                { name: 'format', in: 'query', schema: { enum: [...exportFormats], default: 'jsonl' } },
                ...(what === 'events' ? ['from', 'until'] : []).map((name) => ({
                  name,
                  in: 'query',
                  description: name === 'from' ? 'first moment, included' : 'last moment, not included',
                  schema: { type: 'string' },
                })),
              ],
              responses: {
                '200': {
                  description: 'the rows',
                  content: content({ type: 'string' }, 'application/x-ndjson'),
                },
                ...failures,
              },
            },
          },
        ]),
      ),
    },
    components: {
      securitySchemes: {
        write: { type: 'http', scheme: 'bearer', description: 'a key that may write' },
        read: { type: 'http', scheme: 'bearer', description: 'a key that may read' },
        mend: { type: 'http', scheme: 'bearer', description: 'a key that may take back what came in' },
      },
      schemas: {
        Event: schemaOf(eventSchema),
        Person: schemaOf(personSchema),
        Question: schemaOf(questionSchema),
        Rule: schemaOf(ruleSchema),
        Taken: schemaOf(reply),
        TakeBack: schemaOf(takeBack),
        Failure: schemaOf(failure),
        Answer: schemaOf(answer),
      },
    },
  }
  return made
}

function schemaOf(schema: z.ZodType): object {
  const { $schema: _dialect, ...rest } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' })
  return rest
}
