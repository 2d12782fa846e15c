import '../core/analyses/registry.js'
