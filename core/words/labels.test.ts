import { expect, test } from 'vitest'
import { distinctLabels } from './labels.js'

const property = (of: 'event' | 'person', name: string, display = '') => ({ of, name, display })

test('only what is called otherwise than usual has a label', () => {
  const labels = distinctLabels(
    [
      { name: 'Ride', display: 'Bike ride' },
      { name: 'Map viewed', display: '' },
    ],
    [property('event', 'bike_type'), property('person', 'home', 'Home district')],
  )
  expect(labels).toEqual({ events: { Ride: 'Bike ride' }, properties: { 'person home': 'Home district' } })
})

test('a name that an event’s property and a profile’s share says which; of other equals the first keeps it', () => {
  const { properties, events } = distinctLabels(
    [
      { name: 'Ride', display: '' },
      { name: 'ride_done', display: 'Ride' },
    ],
    [
      property('event', 'plan'),
      property('person', 'plan'),
      property('event', 'bike_type'),
      property('event', 'bikeType'),
    ],
  )
  expect(properties).toEqual({ 'event plan': 'Plan of the event', 'event bikeType': 'Bike Type (bikeType)' })
  expect(events).toEqual({ ride_done: 'Ride (ride_done)' })
})
