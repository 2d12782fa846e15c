import { isRefusal, type Timeline } from '../../core/retrace/timeline.js'
import { formatDuration } from '../../core/words/format.js'
import type { Retraced } from './retraced.js'

/** The session as a line: a mark for each event, a break where a pause is shortened, and where one stands. */
export function TimelineBar(props: {
  line: Timeline
  events: Retraced['events']
  notes: Retraced['notes']
  step: number
  along: number
  onStep: (step: number) => void
}) {
  const { line, events, notes, step, along, onStep } = props
  const percent = (place: number) => `${line.length === 0 ? 50 : (place / line.length) * 100}%`
  return (
    <div className="timeline">
      <div className="timeline-track">
        <i className="timeline-done" style={{ width: percent(along) }} />
        {line.stops.map(
          (stop, index) =>
            stop.shortened && (
              <span
                key={index}
                className="timeline-break"
                style={{
                  left: percent(line.stops[index - 1].along),
                  width: `calc(${percent(stop.along)} - ${percent(line.stops[index - 1].along)})`,
                }}
                title={`pause of ${formatDuration(stop.pauseMs)}, drawn shorter`}
              >
                {formatDuration(stop.pauseMs)}
              </span>
            ),
        )}
        {line.stops.map((stop, index) => {
          const { event, properties, id } = events[index]
          const kinds = [
            index === step ? 'here' : '',
            isRefusal(event, properties) ? 'refused' : '',
            notes.some(({ eventId }) => eventId === id) ? 'noted' : '',
          ]
          return (
            <button
              key={index}
              type="button"
              tabIndex={-1}
              className={`timeline-stop ${kinds.join(' ')}`}
              style={{ left: percent(stop.along) }}
              title={`${event}, ${formatDuration(stop.timeMs - line.stops[0].timeMs)} after the start`}
              aria-label={`Step ${index + 1}: ${event}`}
              onClick={() => onStep(index)}
            />
          )
        })}
      </div>
    </div>
  )
}
