// What is said of studies depends on which kinds there are: whoever says something here knows them.
import './registry.js'

export * from '../../core/analyses/inWords.js'
export * from '../../core/analyses/kinds.js'
export * from '../../core/analyses/peopleWords.js'
